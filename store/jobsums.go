package store

import (
	"database/sql"
	"slices"
	"strings"

	"cleantally/core/day"
	"cleantally/core/posting"
)

// keptOfJobs works out what commit keeps of the jobs j under a condition.
func keptOfJobs(where string) string {
	of := jobSumsOf(false)
	return `SELECT j.id, COALESCE((SELECT MAX(day) FROM (SELECT MAX(x.day) AS day FROM papers x WHERE x.job_id = j.id
			UNION ALL SELECT MAX(m.day) FROM open_items i CROSS JOIN item_moves m ON m.item_id = i.id WHERE i.job_id = j.id
			UNION ALL SELECT MAX(u.day) FROM papers x CROSS JOIN uses u ON u.of_paper_id = x.id WHERE x.job_id = j.id)), ''), ` +
		of.contract + " - j.contract_sum, " + of.billed + ", " + of.open + ", " + of.held + " FROM jobs j WHERE " + where
}

const intoJobSums = "INSERT OR REPLACE INTO job_sums (job_id, last_day, agreed, billed, open, held) "

// jobs keeps what jobs come to that an effect touches: by its papers, by the
// items that it moves, by the papers that it takes from.
func (w *writer) jobs(e posting.Effect, f *Facts) {
	touched := map[int64]bool{}
	for _, p := range e.Papers {
		touched[p.JobID] = true
	}
	for _, i := range e.Items {
		touched[i.JobID] = true
	}
	for _, m := range e.Moves {
		if m.Item > 0 {
			i, _ := f.Item(m.Item)
			touched[i.JobID] = true
		}
	}
	for _, u := range e.Uses {
		if u.Of.PaperID > 0 {
			p, _ := f.Paper(u.Of.PaperID)
			touched[p.JobID] = true
		}
	}
	delete(touched, 0)
	for id := range touched {
		w.exec(intoJobSums+keptOfJobs("j.id = @job"), asOf(day.EndOfTime), sql.Named("job", id))
	}
}

// keepJobs works out what jobs come to where that is not kept yet: in books that
// are older than it.
func (tx *Tx) keepJobs() error {
	missing, err := scan[int64](tx.Reader, "SELECT x.job_id FROM (SELECT DISTINCT job_id FROM papers WHERE job_id IS NOT NULL) x WHERE NOT EXISTS (SELECT 1 FROM job_sums)")
	for chunk := range slices.Chunk(missing, 1000) {
		if err == nil {
			err = tx.db.Exec(intoJobSums+keptOfJobs("j.id IN ?"), chunk, asOf(day.EndOfTime)).Error
		}
	}
	return err
}

// jobsKeptOtherwise finds jobs of which something else is kept than what they
// come to.
func jobsKeptOtherwise() string {
	kept, anew := "SELECT job_id, last_day, agreed, billed, open, held FROM job_sums", strings.ReplaceAll(keptOfJobs("j.id IN (SELECT job_id FROM papers)"), "@asof", "'"+string(day.EndOfTime)+"'")
	return "SELECT 'job ' || j.number FROM jobs j WHERE j.id IN (SELECT job_id FROM (SELECT * FROM (" + kept + " EXCEPT " + anew + ") UNION ALL SELECT * FROM (" + anew + " EXCEPT " + kept + ")))"
}

// orKept are the sums of a list of jobs j at the end of @asof: what is kept
// of each where nothing of it is dated after that, and worked out otherwise.
// They stand beside jobSumsKept.
func (of jobSums) orKept() jobSums {
	either := func(kept, anew string) string {
		return "CASE WHEN COALESCE(s.last_day, '') <= @asof THEN COALESCE(" + kept + ", 0) ELSE " + anew + " END"
	}
	of.contract = either("j.contract_sum + COALESCE(s.agreed, 0)", of.contract)
	of.billed, of.open, of.held = either("s.billed", of.billed), either("s.open", of.open), either("s.held", of.held)
	of.left = "MAX(" + of.contract + " - " + of.billed + ", 0)"
	return of
}

const jobSumsKept = " LEFT JOIN job_sums s ON s.job_id = j.id"

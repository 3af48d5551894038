package web

import (
	"context"

	"cleantally/store"

	"github.com/danielgtaylor/huma/v2"
)

// BackupPlan is how often the books are backed up by themselves, and how many
// backups are kept.
type BackupPlan struct {
	EveryHours int `json:"everyHours" doc:"0 for never"`
	KeepCount  int `json:"keepCount" doc:"So many are kept whatever their age"`
	KeepDays   int `json:"keepDays" doc:"Others until they are so old"`
}

// Backup is what became of one.
type Backup struct {
	ID     int64  `json:"id"`
	At     string `json:"at" doc:"UTC, RFC 3339"`
	Name   string `json:"name"`
	Bytes  int64  `json:"bytes"`
	Took   int64  `json:"took" doc:"Milliseconds"`
	Failed string `json:"failed" doc:"Why; empty where it did not"`
}

// Backups is what is kept, and by which plan.
type Backups struct {
	Plan    BackupPlan `json:"plan"`
	Rows    []Backup   `json:"rows"`
	At      string     `json:"at" doc:"The directory, on the machine that runs the program"`
	Free    int64      `json:"free" doc:"Bytes that are free there"`
	Missing string     `json:"missing" doc:"What is wrong; empty for nothing"`
}

func backupBody(b store.Backup) Backup {
	return Backup{b.ID, b.At, b.Name, b.Bytes, b.TookMs, b.Failed}
}

func (s *Server) backups(ctx context.Context) (*struct{ Body Backups }, error) {
	r := s.book.Read(ctx)
	plan, err := r.BackupPlan()
	if err != nil {
		return nil, problem(err)
	}
	all, err := r.Backups(200)
	if err != nil {
		return nil, problem(err)
	}
	out := &struct{ Body Backups }{Backups{Plan: BackupPlan(plan), Rows: []Backup{}, At: s.book.BackupDir()}}
	for _, b := range all {
		out.Body.Rows = append(out.Body.Rows, backupBody(b))
	}
	if out.Body.Free, err = s.book.FreeForBackups(); err != nil {
		return nil, problem(err)
	}
	_, out.Body.Missing, err = s.book.BackupDue(ctx)
	return out, problem(err)
}

func (s *Server) registerBackups() {
	huma.Register(s.api, describe("backups", "GET", "/api/v1/backups", "The backups that are kept, and by which plan"), func(ctx context.Context, _ *struct{}) (*struct{ Body Backups }, error) {
		return s.backups(ctx)
	})
	huma.Register(s.api, describe("save-backup-plan", "PUT", "/api/v1/backup-plan", "Say how often the books are backed up, and how many backups are kept"), func(ctx context.Context, in *struct{ Body BackupPlan }) (*struct{ Body Backups }, error) {
		if err := s.book.SaveBackupPlan(ctx, s.user(ctx), store.BackupPlan(in.Body)); err != nil {
			return nil, problem(err)
		}
		return s.backups(ctx)
	})
	huma.Register(s.api, describe("back-up", "POST", "/api/v1/backups", "Make a backup now, opened and checked"), func(ctx context.Context, _ *struct{}) (*struct{ Body Backup }, error) {
		made, err := s.book.BackUp(ctx, s.user(ctx))
		if err != nil && made.Failed != "" {
			return nil, plain(507, "The backup failed: "+made.Failed+".")
		}
		return &struct{ Body Backup }{backupBody(made)}, problem(err)
	})
}

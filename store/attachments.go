package store

// Attachment is a file that is attached to a paper, a draft, a customer or a
// job. The file itself lies beside the data file, under its hash.
type Attachment struct {
	ID      int64
	Hash    string // SHA-256, in hexadecimal
	Name    string
	Type    string // media type, as its content says
	Size    int64  // bytes
	GoesOut bool   // with the paper; else it is only ours
	AttachedTo
	AddedAt string
	AddedBy int64
}

// AttachedTo is what something is attached to: one of them.
type AttachedTo struct{ PaperID, DraftID, PartyID, JobID int64 }

func (a AttachedTo) where() (string, int64) {
	switch {
	case a.PaperID != 0:
		return "paper_id", a.PaperID
	case a.DraftID != 0:
		return "draft_id", a.DraftID
	case a.PartyID != 0:
		return "party_id", a.PartyID
	}
	return "job_id", a.JobID
}

// Attachments returns what is attached, in the order in which it was added.
func (r Reader) Attachments(to AttachedTo) ([]Attachment, error) {
	column, id := to.where()
	if id == 0 {
		return nil, nil
	}
	return scan[Attachment](r, "SELECT * FROM attachments WHERE "+column+" = ? ORDER BY id", id)
}

// Attachment returns one of them.
func (r Reader) Attachment(id int64) (Attachment, bool, error) {
	return one[Attachment](r, "SELECT * FROM attachments WHERE id = ?", id)
}

// AttachmentHashes returns the hashes of all files that are attached, or went
// with a mail.
func (r Reader) AttachmentHashes() ([]string, error) {
	return scan[string](r, "SELECT hash FROM attachments UNION SELECT hash FROM mail_files ORDER BY hash")
}

// Attachable tells whether there is what something would be attached to.
func (r Reader) Attachable(to AttachedTo) (bool, error) {
	column, id := to.where()
	table := map[string]string{"paper_id": "papers", "draft_id": "drafts", "party_id": "parties", "job_id": "jobs"}[column]
	_, ok, err := one[int64](r, "SELECT id FROM "+table+" WHERE id = ?", id)
	return ok, err
}

// Attach stores that a file is attached and gives it its ID.
func (tx *Tx) Attach(a *Attachment) error {
	res, err := tx.exec("INSERT INTO attachments (hash, name, type, size, goes_out, paper_id, draft_id, party_id, job_id, added_at, added_by) VALUES (?,?,?,?,?,?,?,?,?,?,?)",
		a.Hash, a.Name, a.Type, a.Size, a.GoesOut, null(a.PaperID), null(a.DraftID), null(a.PartyID), null(a.JobID), a.AddedAt, a.AddedBy)
	if err == nil {
		a.ID, err = res.LastInsertId()
	}
	return err
}

// AttachAll attaches the same files to something else.
func (tx *Tx) AttachAll(all []Attachment, to AttachedTo) error {
	for _, a := range all {
		a.AttachedTo = to
		if err := tx.Attach(&a); err != nil {
			return err
		}
	}
	return nil
}

// SetGoesOut says whether an attachment goes out with its paper.
func (tx *Tx) SetGoesOut(id int64, goes bool) error {
	_, err := tx.exec("UPDATE attachments SET goes_out = ? WHERE id = ?", goes, id)
	return err
}

// Detach takes an attachment off.
func (tx *Tx) Detach(id int64) error {
	_, err := tx.exec("DELETE FROM attachments WHERE id = ?", id)
	return err
}

package books

import (
	"bytes"
	"cleantally/core/rights"
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"image"
	_ "image/gif"  // so that the size of a picture is known
	_ "image/jpeg" // the same
	_ "image/png"  // the same
	"io/fs"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"cleantally/core/posting"
	"cleantally/store"
)

const (
	attachmentsDir   = "attachments"
	mostAttached     = 30       // files on one paper, draft, customer or job
	largestAttached  = 8 << 20  // bytes of one
	mostPixels       = 60 << 20 // of a picture: a small file may unfold to more than a memory holds
	longestNameBytes = 120
)

// Attach keeps a file and attaches it. The type is what its content says; a
// name that says another is refused, as is what is empty, too large, or a
// picture that would unfold to more than can be shown.
func (b *Book) Attach(ctx context.Context, user int64, to store.AttachedTo, name string, data []byte) (store.Attachment, error) {
	var v validation
	a := store.Attachment{Name: plainName(name), Size: int64(len(data)), AttachedTo: to, AddedAt: b.clock().UTC().Format(time.RFC3339), AddedBy: user, Hash: fmt.Sprintf("%x", sha256.Sum256(data))}
	switch {
	case len(data) == 0:
		v.refuse("file", "empty", "%s is empty. Choose another file.", a.Name)
	case len(data) > largestAttached:
		v.refuse("file", "too large", "%s has %d MB. An attachment has at most %d MB.", a.Name, len(data)>>20, largestAttached>>20)
	}
	if err := errors.Join(v.err(), b.SeesAttached(ctx, to)); err != nil {
		return a, err
	}
	a.Type = kindOf(&v, a.Name, data)
	if err := v.err(); err != nil {
		return a, err
	}
	if err := b.keepFile(a.Hash, data); err != nil {
		return a, err
	}
	return a, b.change(ctx, rights.ToNote, func(tx *store.Tx) error {
		if err := attachable(tx, to); err != nil {
			return err
		}
		there, err := tx.Attachments(to)
		if err != nil {
			return err
		}
		var v validation
		for _, o := range there {
			if o.Hash == a.Hash {
				v.refuse("file", "taken", "%s is attached here already.", o.Name)
			}
		}
		if len(there) >= mostAttached {
			v.refuse("file", "too many", "At most %d files are attached to one thing.", mostAttached)
		}
		if err := v.err(); err != nil {
			return err
		}
		if err := tx.Attach(&a); err != nil {
			return err
		}
		return b.record(tx, user, "attach", "Attached "+a.Name, a)
	})
}

// attachable refuses what is not there.
func attachable(tx *store.Tx, to store.AttachedTo) error {
	ok, err := tx.Attachable(to)
	if err == nil && !ok {
		err = posting.Refusals{{Field: "file", Rule: "missing", Text: "There is nothing here that a file could be attached to. Save it first."}}
	}
	return err
}

// plainName is a file's name without the path that may stand before it and
// without what cannot be shown.
func plainName(name string) string {
	name = name[strings.LastIndexAny(name, `/\`)+1:]
	name = strings.TrimSpace(strings.Map(func(r rune) rune {
		if unicode.IsControl(r) || !unicode.IsPrint(r) || strings.ContainsRune(`"<>|:*?`, r) {
			return -1
		}
		return r
	}, name))
	for len(name) > longestNameBytes {
		_, size := utf8.DecodeLastRuneInString(name)
		name = name[:len(name)-size]
	}
	if strings.Trim(name, ". ") == "" {
		return "file"
	}
	return name
}

// shown are the types that are shown in place, by what a name may end in.
var shown = map[string][]string{"application/pdf": {".pdf"}, "image/png": {".png"}, "image/jpeg": {".jpg", ".jpeg"}, "image/gif": {".gif"}, "image/webp": {".webp"}}

// ShownInPlace tells whether an attachment of a type is shown in place; others
// are taken along as files.
func ShownInPlace(mediaType string) bool { return shown[mediaType] != nil }

// kindOf is the type of a file as its content says. What is none of those that
// are shown is kept as bytes.
func kindOf(v *validation, name string, data []byte) string {
	found, _, _ := strings.Cut(http.DetectContentType(data), ";")
	if shown[found] == nil {
		found = "application/octet-stream"
	}
	ext := strings.ToLower(filepath.Ext(name))
	for kind, ends := range shown {
		for _, end := range ends {
			if ext == end && kind != found {
				v.refuse("file", "not what it says", "%s says that it is %s, but it is not. Choose the right file.", name, strings.ToUpper(strings.TrimPrefix(end, ".")))
				return found
			}
		}
	}
	if strings.HasPrefix(found, "image/") && found != "image/webp" {
		size, _, err := image.DecodeConfig(bytes.NewReader(data))
		if err != nil {
			v.refuse("file", "broken", "%s is a picture that cannot be read.", name)
		} else if size.Width*size.Height > mostPixels {
			v.refuse("file", "too large", "%s would unfold to %d × %d points, which is more than can be shown.", name, size.Width, size.Height)
		}
	}
	return found
}

// file is where a file lies, by its hash.
func (b *Book) file(hash string) string { return filepath.Join(b.dir, attachmentsDir, hash[:2], hash) }

// keepFile writes a file under its hash, whole or not at all.
func (b *Book) keepFile(hash string, data []byte) error {
	to := b.file(hash)
	if held, err := os.ReadFile(to); err == nil && bytes.Equal(held, data) {
		return nil
	}
	if err := os.MkdirAll(filepath.Dir(to), 0o700); err != nil {
		return err
	}
	f, err := os.CreateTemp(filepath.Dir(to), ".new-*")
	if err != nil {
		return err
	}
	_, err = f.Write(data)
	if err = errors.Join(err, f.Sync(), f.Close()); err != nil {
		return errors.Join(err, os.Remove(f.Name()))
	}
	return os.Rename(f.Name(), to)
}

// errChanged says that a file is not what was kept under its hash.
var errChanged = errors.New("the file was changed")

// keptFile reads a file by its hash.
func (b *Book) keptFile(hash string) ([]byte, error) {
	data, err := os.ReadFile(b.file(hash))
	if err == nil && fmt.Sprintf("%x", sha256.Sum256(data)) != hash {
		err = errChanged
	}
	return data, err
}

// AttachedFile returns an attachment with its content, or fs.ErrNotExist.
func (b *Book) AttachedFile(ctx context.Context, id int64) (store.Attachment, []byte, error) {
	a, ok, err := b.Read(ctx).Attachment(id)
	if err != nil || !ok {
		return a, nil, errors.Join(err, fs.ErrNotExist)
	}
	if err := b.SeesAttached(ctx, a.AttachedTo); err != nil {
		return a, nil, err
	}
	data, err := b.keptFile(a.Hash)
	if errors.Is(err, errChanged) {
		err = fmt.Errorf("the attachment %s is not what was attached: its file was changed", a.Name)
	}
	return a, data, err
}

// SetGoesOut says whether an attachment goes out with its paper.
func (b *Book) SetGoesOut(ctx context.Context, user, id int64, goes bool) error {
	return b.changeAttached(ctx, user, id, "change attachment", func(tx *store.Tx) error { return tx.SetGoesOut(id, goes) })
}

// Detach takes an attachment off. Its file stays while something else, or a
// backup, may need it.
func (b *Book) Detach(ctx context.Context, user, id int64) error {
	return b.changeAttached(ctx, user, id, "detach", func(tx *store.Tx) error { return tx.Detach(id) })
}

func (b *Book) changeAttached(ctx context.Context, user, id int64, action string, change func(*store.Tx) error) error {
	return b.change(ctx, rights.ToNote, func(tx *store.Tx) error {
		a, ok, err := tx.Attachment(id)
		if err != nil {
			return err
		}
		if !ok {
			return store.ErrNoRecord
		}
		if err := change(tx); err != nil {
			return err
		}
		return b.record(tx, user, action, "Changed the attachment "+a.Name, a)
	})
}

// MissingAttachments tells which attached files are gone or were changed.
func (b *Book) MissingAttachments(ctx context.Context) ([]string, error) {
	hashes, err := b.Read(ctx).AttachmentHashes()
	var missing []string
	for _, h := range hashes {
		data, err := os.ReadFile(b.file(h))
		if err != nil {
			missing = append(missing, "the attached file "+h+" is gone")
		} else if fmt.Sprintf("%x", sha256.Sum256(data)) != h {
			missing = append(missing, "the attached file "+h+" was changed")
		}
	}
	return missing, err
}

// attachmentsBeside is where a backup keeps what is attached.
func attachmentsBeside(backup string) string { return backup + "-attachments" }

// copyAttachments copies attached files from one directory to another. What is
// there already stays.
func copyAttachments(from, to string) error {
	err := filepath.WalkDir(from, func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.HasPrefix(d.Name(), ".") {
			return err
		}
		rest, err := filepath.Rel(from, path)
		if err != nil {
			return err
		}
		return copyOnce(path, filepath.Join(to, rest))
	})
	if errors.Is(err, fs.ErrNotExist) {
		return nil // nothing is attached
	}
	return err
}

func copyOnce(from, to string) error {
	if _, err := os.Stat(to); err == nil {
		return nil
	}
	if err := os.MkdirAll(filepath.Dir(to), 0o700); err != nil {
		return err
	}
	return store.CopyFile(from, to)
}

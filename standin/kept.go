package standin

import (
	"encoding/json"
	"errors"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
)

// load reads what a stand-in kept in a file of its directory, which is made where
// it is not there; nothing, before it kept anything. It returns the file's path.
func load(dir, name string, into any) (string, error) {
	file := filepath.Join(dir, name)
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return file, err
	}
	content, err := os.ReadFile(file)
	if errors.Is(err, fs.ErrNotExist) {
		return file, nil
	}
	if err != nil {
		return file, err
	}
	return file, json.Unmarshal(content, into)
}

// write keeps what a stand-in knows.
func write(file string, what any) {
	content, err := json.Marshal(what)
	if err == nil {
		err = os.WriteFile(file, content, 0o600)
	}
	if err != nil {
		slog.Error("a stand-in cannot keep what it knows", "file", file, "error", err)
	}
}

package web

import (
	"encoding/json"
	"fmt"
	"time"
)

// codec keeps a session as plain JSON: it is read with every request.
type codec struct{}

type keptSession struct {
	Deadline time.Time         `json:"deadline"`
	Numbers  map[string]int64  `json:"numbers"`
	Texts    map[string]string `json:"texts"`
}

// Encode writes a session: its numbers and texts, and until when it goes on.
func (codec) Encode(deadline time.Time, values map[string]any) ([]byte, error) {
	s := keptSession{deadline, map[string]int64{}, map[string]string{}}
	for key, v := range values {
		switch v := v.(type) {
		case int64:
			s.Numbers[key] = v
		case string:
			s.Texts[key] = v
		default:
			return nil, fmt.Errorf("a session does not keep %T", v)
		}
	}
	return json.Marshal(s)
}

// Decode reads what Encode wrote.
func (codec) Decode(b []byte) (time.Time, map[string]any, error) {
	var s keptSession
	err := json.Unmarshal(b, &s)
	values := make(map[string]any, len(s.Numbers)+len(s.Texts))
	for key, n := range s.Numbers {
		values[key] = n
	}
	for key, text := range s.Texts {
		values[key] = text
	}
	return s.Deadline, values, err
}

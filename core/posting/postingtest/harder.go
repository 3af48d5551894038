package postingtest

import (
	"os"
	"strconv"
)

// Harder is how many times as much the tests that look for what goes wrong by
// chance try: once, or as often as TORTURE says (make torture).
func Harder() int {
	if n, err := strconv.Atoi(os.Getenv("TORTURE")); err == nil && n > 0 {
		return n
	}
	return 1
}

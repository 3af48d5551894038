package postingtest

import (
	"fmt"
	"math/rand/v2"

	"cleantally/core/day"
	"cleantally/core/posting"
	"cleantally/core/settling"
)

// UndoAll reverses papers on a day, in any order: what others stand on waits
// until they are reversed, for so many rounds.
func (b *Book) UndoAll(rnd *rand.Rand, papers []int64, d day.Day, rounds int) error {
	rnd.Shuffle(len(papers), func(i, j int) { papers[i], papers[j] = papers[j], papers[i] })
	for round := 0; len(papers) > 0; round++ {
		var waits []int64
		for _, id := range papers {
			_, err := b.Post(settling.Reversal{PaperID: id, Day: d, Reason: "wrong"})
			if _, refused := err.(posting.Refusals); refused && round < rounds {
				waits = append(waits, id)
			} else if err != nil {
				return fmt.Errorf("reversing %d: %w", id, err)
			}
		}
		papers = waits
	}
	return nil
}

// After are the papers that came after one, by their IDs.
func (b *Book) After(id int64) (all []int64) {
	for _, p := range b.Papers {
		if p.ID > id {
			all = append(all, p.ID)
		}
	}
	return all
}

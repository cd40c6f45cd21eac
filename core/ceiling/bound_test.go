package ceiling

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/truth/effort"
)

// rowByChance is a row of upper bounds by some of the sources, as firm as chance has it.
func rowByChance(r *rand.Rand) (row []Ceiling) {
	for _, by := range []Source{Standard, Firmware, Processor, Chipset, Board, Technician, Field} {
		if r.IntN(2) == 0 {
			continue
		}
		standing := []fact.Standing{fact.Unknown, fact.Leaning, fact.Settled, fact.Disputed}[r.IntN(4)]
		c := Ceiling{What: Capacity, Source: by, Standing: standing, Says: "it is said"}
		switch {
		case by == Standard:
			c.Standing = fact.Settled
		case by == Field, by == Firmware && standing == fact.Settled: // neither is ever firm
			c.Standing = fact.Leaning
		}
		if c.Standing != fact.Unknown {
			c.Most = maybe.Just(Bytes(jedec.Capacity(4<<r.IntN(5)) * jedec.GiB))
		}
		row = append(row, c)
	}
	return row
}

// One sorting says what a row comes to: what is marked is the first level that somebody states; nothing firm is beaten
// by what is softer, nothing stated by an inference; what runs leads only where it is further.
func TestChanceARowComesToOneThing(t *testing.T) {
	marked, inferred, runs := 0, 0, 0
	for seed := range uint64(effort.Cases(4000)) {
		r := rand.New(rand.NewPCG(seed, 11))
		row := rowByChance(r)
		proved := Floor{Inferred: Bytes(jedec.Capacity(r.IntN(3)*8) * jedec.GiB)}
		p := Levels(row, proved)
		text := fmt.Sprintf("%d: %v, %+v: %+v", seed, row, proved, p)
		assert.NotEmpty(t, p.Levels, text)
		least, held := Amount{}, false // of what is firm
		stated, contradicted := false, false
		for _, c := range row {
			most, ok := c.Most.Get()
			contradicted = contradicted || ok && c.Standing == fact.Disputed && c.Source != Firmware
			if !ok || !c.Holds() || c.Allows() {
				continue
			}
			stated = stated || c.Source != Standard
			if c.Standing == fact.Settled && (!held || least.Exceeds(most)) {
				least, held = most, true
			}
		}
		first := p.Levels[0]
		if p.Infers != "" {
			inferred++
			assert.False(t, stated, "an inference beats what is stated: "+text)
		}
		if held && !p.Runs && !contradicted && p.Infers == "" {
			assert.False(t, first.None || first.Most.Exceeds(least), "what is firm is beaten: "+text)
		}
		if p.Runs {
			runs++
			assert.True(t, first.by > 0 && first.Most.Exceeds(Levels(withoutField(row), Floor{}).Levels[0].Most) ||
				!stated, text)
		}
		bound, ok := BoundOf(bind(row))
		if ok && !p.Runs && !contradicted && p.Infers == "" {
			marked++
			assert.Equal(t, first.Most, bound.Most, text)
		}
		for _, c := range bound.Softer {
			assert.True(t, bound.Most.Exceeds(c.Most.Or(Amount{})), text)
		}
		if t.Failed() {
			t.FailNow()
		}
	}
	assert.Greater(t, min(marked, inferred, runs), effort.Cases(4000)/50)
}

func withoutField(row []Ceiling) (rest []Ceiling) {
	for _, c := range row {
		if c.Source != Field {
			rest = append(rest, c)
		}
	}
	return rest
}

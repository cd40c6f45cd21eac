package demo_test

import (
	"fmt"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/internal/demo"
	"epitome/truth/effort"
)

// school is a round over so many machines and lines, each card read from its file's text.
func school(t testing.TB, machines, lines int) bench.RoundOrder {
	t.Helper()
	var texts [][]byte
	for n := range machines {
		text, err := demo.SchoolCard(n, time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)).Encode()
		require.NoError(t, err)
		texts = append(texts, text)
	}
	known, faults := bench.ParseEntries("harbour.yaml", []byte(demo.Catalogue))
	require.Empty(t, faults)
	k := bench.Known{}.With(known)
	list, err := bench.ReadList(func(yield func(bench.ListRow) bool) {
		n := 0
		for line := range strings.Lines(demo.SchoolList(lines)) {
			n++
			if !yield(bench.ListRow{Number: n, Cells: strings.Split(strings.TrimSpace(line), ";")}) {
				return
			}
		}
	}, bench.ListOrder{Supplier: "harbour"})
	require.NoError(t, err)
	offers, currency, err := bench.OffersOf([]bench.PriceList{list}, "")
	require.NoError(t, err)
	drawer, wrong := bench.DrawerText(demo.Drawer)
	require.Empty(t, wrong)
	return bench.RoundOrder{Cards: machines, Name: func(i int) string { return fmt.Sprintf("school-%05d.card", i+1) },
		Open: func(i int) (*bench.Bench, error) {
			c, err := bench.ParseCard(texts[i])
			return bench.New(c, k), err
		}, Goal: bench.Goal{Reach: maybe.Just(16 * jedec.GiB), Offers: offers, Currency: currency}, Drawer: drawer}
}

func TestASchoolIsServedWithinItsStock(t *testing.T) {
	effort.NotShort(t)
	o := school(t, 120, 200)
	r, err := o.Plan()
	require.NoError(t, err)
	gets, counted := 0, make(map[string]int)
	require.NoError(t, r.Lines(func(l bench.RoundLine) error {
		if l.State == bench.RoundGets {
			gets++
			assert.GreaterOrEqual(t, l.After, 16*jedec.GiB, l.Card)
			assert.False(t, bench.Refuses(l.Verdict), l.Card)
		}
		for _, x := range l.Gets {
			if x.From == "" {
				counted[x.Offer] += x.N
			}
		}
		return nil
	}))
	assert.Positive(t, gets)
	assert.Equal(t, 120, r.Read)
	pieces, got, left := 0, 0, 0
	for _, b := range r.Buying {
		if n, stated := b.Quantity.Get(); stated {
			assert.LessOrEqual(t, b.Units, n, "no more than there is of %s", b.SKU)
		}
		assert.GreaterOrEqual(t, b.Units, b.MinOrder, b.SKU)
		pieces += b.Units * b.Pieces
	}
	for _, n := range counted {
		got += n
	}
	for _, l := range r.Left {
		left += l.N
	}
	assert.Equal(t, pieces, got+left, "each module that is bought goes somewhere")
}

func BenchmarkRound(b *testing.B) {
	for _, x := range [][2]int{{10, 300}, {100, 300}, {1000, 300}, {200, 10000}} {
		b.Run(fmt.Sprintf("machines=%d/lines=%d", x[0], x[1]), func(b *testing.B) {
			o := school(b, x[0], x[1])
			runtime.GC()
			for b.Loop() {
				r, err := o.Plan()
				require.NoError(b, err)
				require.NoError(b, r.Lines(func(bench.RoundLine) error { return nil }))
			}
		})
	}
}

package cli

import (
	"bytes"
	"fmt"
	"io"
	"math/rand/v2"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/live"
	"epitome/internal/store"
	"epitome/internal/view"
)

// proveFlags are prove's flags as typed.
type proveFlags struct {
	length         time.Duration
	memory, format string
	chart          string
	replace        bool
	seed           uint64
}

func (a *app) prove() *cobra.Command {
	var f proveFlags
	cmd := &cobra.Command{
		Use:   "prove [CARD] [--for TIME] [--memory SHARE]",
		Short: "Is it all sound, and how fast: memory measured and proved",
		Long: `Prove measures this machine's memory, bandwidth and latency, and then writes
patterns over as much of it as programs may have, and reads them back: places,
checkerboards, walking bits, random values. The figures go onto the card, and
recheck holds them against those from before the upgrade.

It runs as an ordinary user, lets every other program go first, and gives memory
back where the system runs short. What firmware and the system keep for
themselves it can't reach: it says which share of the machine was covered.
Ctrl-C ends it and keeps what was measured.

Exit codes: 0 sound, 3 a fault was found, 4 nothing was proved.`,
		Example: `  epitome prove bench3.card
  epitome prove bench3.card --for 10m
  epitome prove --memory 2GB`,
		Args: func(cmd *cobra.Command, args []string) error {
			if len(args) > 1 {
				return usageError("prove takes one card, or none, got %d arguments; see %s --help", len(args), cmd.CommandPath())
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(f.format); err != nil {
				return err
			}
			if f.length < 0 || f.length > 7*24*time.Hour {
				return usageError("--for %v: up to a week, as 2m or 12h", f.length)
			}
			if err := f.checkChart(len(args) > 0); err != nil {
				return err
			}
			path := ""
			if len(args) > 0 {
				path = args[0]
				if _, err := a.readCard(path); err != nil { // before minutes of work
					return err
				}
			}
			return a.proved(path, f)
		},
	}
	formatFlag(cmd, &f.format)
	flags := cmd.Flags()
	flags.DurationVar(&f.length, "for", 0, "go on for so long, as 2m; default: once through all patterns")
	flags.StringVar(&f.memory, "memory", "80%", "how much: a share of what is available, or a size such as 512MB")
	flags.StringVar(&f.chart, "chart", "", "draw the card's proofs side by side into this file, .png or .svg")
	flags.BoolVar(&f.replace, "replace", false, "draw the chart over an existing file")
	flags.Uint64Var(&f.seed, "seed", 0, "of the random pattern; default: another one each time, which is said")
	return cmd
}

const (
	// largestPiece is how much memory is taken at once, in bytes; it goes back in such pieces.
	largestPiece = 256 << 20
	// pieceStep is what the size of a piece is a multiple of: a large page.
	pieceStep = 2 << 20
	// leastLeft is what is left to the system in any case, in bytes.
	leastLeft = 256 << 20
)

func (a *app) proved(path string, f proveFlags) error {
	room, err := live.MemoryRoom()
	if err != nil {
		return err
	}
	bytes, err := bench.ShareOf(f.memory, room.Available)
	if err != nil {
		return err
	}
	left := max(room.All/20, leastLeft)
	if room.Available < left+pieceStep {
		return &codedError{exitCannotTell, live.ErrNoMemory}
	}
	bytes = min(bytes, room.Available-left)
	busy := atWork()
	live.Humble()
	threads := live.Processors()
	piece := max(min(bytes/uint64(threads), largestPiece)/pieceStep*pieceStep, pieceStep)
	memory, err := live.TakeMemory(max(bytes, piece), piece)
	if err != nil {
		return &codedError{exitCannotTell, err}
	}
	defer memory.Release()
	if f.seed == 0 {
		f.seed = rand.Uint64()
	}
	order := bench.ProofOrder{Memory: memory.Pieces, Threads: threads, Seed: f.seed, Now: a.now, GiveBack: memory.GiveBack,
		Stop: a.interrupted,
		Press: func() bool {
			now, err := live.MemoryRoom()
			return err == nil && now.Available < left/2
		}}
	if f.length > 0 {
		order.Until = a.now().Add(f.length)
	}
	journal, err := a.keepsProof(path, &order, room.All, busy)
	if err != nil {
		return err
	}
	finish := a.showsProof(&order, f.length)
	r := bench.Prove(order)
	r.LargePages, r.Of, r.Busy = live.LargePages(), room.All, busy
	finish()
	memory.Release()
	if journal != nil {
		defer journal.Remove()
	}
	if path != "" {
		reading, err := bench.ProofReading(r, a.now().UTC().Truncate(time.Second))
		if err != nil {
			return err
		}
		if err := a.add(path, "the proof was added", reading); err != nil {
			return err
		}
	}
	return a.showProof(path, r, f)
}

func (f proveFlags) checkChart(card bool) error {
	switch {
	case f.chart != "" && !card:
		return usageError("--chart draws what a card keeps; name the card")
	case f.chart != "" && !strings.HasSuffix(f.chart, ".png") && !strings.HasSuffix(f.chart, ".svg"):
		return usageError("--chart %s: a name that ends in .png or .svg", f.chart)
	}
	return nil
}

// atWork reports whether others want the processors, while this program waits.
func atWork() bool {
	const looks, noticed = 400 * time.Millisecond, 0.1
	idle, all, ok := live.ProcessorTime()
	time.Sleep(looks)
	idleThen, allThen, still := live.ProcessorTime()
	if !ok || !still || allThen <= all {
		return false
	}
	return 1-float64(idleThen-idle)/float64(allThen-all) > noticed
}

// showsProof shows on a terminal how far it has come.
func (a *app) showsProof(o *bench.ProofOrder, length time.Duration) (finish func()) {
	const whole = 1000
	o.Shows = func(string, float64) {}
	if a.errScreen == nil {
		return func() {}
	}
	b, began := a.newBar("measuring", whole), a.now()
	var pass time.Time // when the first pattern was written
	o.Shows = func(what string, share float64) {
		now := a.now()
		at, left := int64(share*whole), time.Duration(0)
		switch {
		case length > 0:
			at, left = int64(now.Sub(began)*whole/length), length-now.Sub(began)
		case what == "measuring":
		case pass.IsZero():
			pass = now
		case share > 0:
			left = time.Duration(float64(now.Sub(pass)) * (1 - share) / share)
		}
		if left > 0 {
			what += fmt.Sprintf(", about %v left", left.Round(time.Second))
		}
		b.at(min(at, whole-1), what)
	}
	return b.end
}

// keepsProof keeps what a proof finds in a journal beside its card, as it goes: of one that is killed, the next
// command on the card takes in what was known. There is none without a card.
func (a *app) keepsProof(path string, o *bench.ProofOrder, all uint64, busy bool) (*store.Journal, error) {
	if path == "" {
		return nil, nil
	}
	journal, err := store.NewJournal(path)
	if err != nil {
		return nil, err
	}
	_, broken := io.WriteString(journal, bench.ProofJournalHead(a.now()))
	o.Saw = func(r bench.Proof) {
		r.LargePages, r.Of, r.Busy = live.LargePages(), all, busy
		entry, err := bench.ProofJournalEntry(r, a.now())
		if err != nil || broken != nil {
			return
		}
		if _, broken = journal.Write(entry); broken != nil {
			a.say("prove    the journal can't be written: %v; the work goes on", broken)
		}
	}
	return journal, nil
}

func (a *app) showProof(path string, r bench.Proof, f proveFlags) (err error) {
	if f.format == "json" {
		err = view.WriteJSON(a.out, view.ProofJSON(r))
	} else {
		page := view.NewPage(a.look())
		page.Proof(r)
		if path != "" {
			if err := a.heldAgainst(path, page); err != nil {
				return err
			}
		}
		err = page.Flush(a.out)
	}
	if err == nil && f.chart != "" {
		err = a.drawProofs(path, f)
	}
	switch {
	case err != nil:
		return err
	case len(r.Faults) > 0:
		return answer(exitNo)
	case !r.Sound():
		return answer(exitCannotTell)
	}
	return nil
}

// heldAgainst says how much faster the machine is than when it was proved first.
func (a *app) heldAgainst(path string, page *view.Page) error {
	b, err := a.open(path)
	if err != nil {
		return err
	}
	way, _, _ := b.Kept(0) // without one nothing is predicted
	if s, why, ok := b.Faster(b, way, false); ok || why != "" {
		page.Faster(s, why)
	}
	return nil
}

// drawProofs draws the proofs of a card side by side.
func (a *app) drawProofs(path string, f proveFlags) error {
	b, err := a.open(path)
	if err != nil {
		return err
	}
	var out bytes.Buffer
	if err := view.ProofChart(&out, b.Proofs(), filepath.Ext(f.chart) == ".svg"); err != nil {
		return fmt.Errorf("%s: %w", f.chart, err)
	}
	if err := a.write(f.chart, out.Bytes(), f.replace); err != nil {
		return err
	}
	a.say("chart    %s", f.chart)
	return nil
}

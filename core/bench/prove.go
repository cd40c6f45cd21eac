package bench

import (
	"fmt"
	"time"

	"epitome/core/card"
	"epitome/core/jedec"
	"epitome/core/prove"
	"epitome/core/records"
)

// What a proof is made of and comes to goes by these names.
type (
	// A Proof is a result of a proof.
	Proof = prove.Result
	// A ProofOrder is what a proof is to be made of.
	ProofOrder = prove.Order
)

// Prove measures and proves memory that it is handed.
func Prove(o ProofOrder) Proof { return prove.Run(o) }

// ProofReading keeps a proof on a card.
func ProofReading(r Proof, now time.Time) (Reading, error) {
	p := records.Proof{Date: now.Format(time.DateOnly), Threads: r.Threads, Read: r.Read.Median, Write: r.Write.Median,
		Copy:    r.Copy.Median,
		ReadOne: r.ReadOne.Median, WriteOne: r.WriteOne.Median, CopyOne: r.CopyOne.Median, Spread: r.Spread(),
		Latency:    r.Latency.Median,
		LargePages: r.LargePages, CoveredMiB: r.Covered >> 20, OfMiB: r.Of >> 20, Passes: r.Passes, Seed: r.Seed,
		Busy: r.Busy, MoreFaults: r.MoreFaults}
	for _, f := range r.Faults {
		p.Faults = append(p.Faults, records.ProofFault{Offset: f.Offset, Pattern: f.Pattern, Wrote: Hex(f.Wrote),
			Read: Hex(f.Read), Again: f.Again})
	}
	data, err := p.Encode()
	return Reading{Kind: card.Proof, Source: "prove", How: "live", Taken: now, Data: data}, err
}

// Hex writes a word as faults show it.
func Hex(word uint64) string { return fmt.Sprintf("0x%016X", word) }

// Proofs are what was measured and proved of the machine, the latest last.
func (b *Bench) Proofs() []records.Proof { return b.readings().Proofs }

// A Speed is how much faster a machine is than before, and how much faster it could be.
type Speed struct {
	Ratio, Off float64 // of the bandwidth; how much it may be off
	Predicted  float64 // at most, by the rates and the channels; 0 where that is not known
}

// Noticed is how far a ratio must be from one to be more than the measuring.
func (s Speed) Noticed() bool { return s.Ratio-1 > s.Off || 1-s.Ratio > s.Off }

// Faster compares the last proof on this card with the last one on a card that was made
// after fitting, or, where that has none, the first and the last one on this card. Figures
// that were taken while others were at work, or that lie too far apart, are not compared:
// why says so. ok is false where there are not two.
func (b *Bench) Faster(after *Bench, w Way, profile bool) (s Speed, why string, ok bool) {
	one, two := b.Proofs(), after.Proofs()
	if after == b || len(two) == 0 {
		if len(one) < 2 {
			return s, "", false
		}
		one, two = one[:1], one
	}
	if len(one) == 0 {
		return s, "", false
	}
	first, last := proofOf(one[len(one)-1]), proofOf(two[len(two)-1])
	if !first.Steady() || !last.Steady() {
		return s, "the figures before or after were taken while the machine was busy, or lie too far apart: measure again " +
			"when it is idle", false
	}
	s.Ratio, s.Off, ok = prove.Faster(first, last)
	s.Predicted = b.predicted(w, profile)
	return s, "", ok
}

// predicted is how many times the bandwidth is after a way was carried out, at most, by the
// rates and the channels; 0 where that is not known.
func (b *Bench) predicted(w Way, profile bool) float64 {
	plan, err := w.Trial()
	if err != nil {
		return 0
	}
	plan.Profile = profile
	t, err := b.Try(plan)
	if err != nil {
		return 0
	}
	return t.Faster().Or(0)
}

// ProofLine says in one line what the last proof came to; empty where there is none.
func (b *Bench) ProofLine() string {
	all := b.Proofs()
	if len(all) == 0 {
		return ""
	}
	p := all[len(all)-1]
	says := "sound"
	switch {
	case len(p.Faults) > 0:
		says = fmt.Sprintf("%d faults", len(p.Faults)+p.MoreFaults)
	case !p.Sound():
		says = "stopped before one pass was whole"
	}
	line := fmt.Sprintf("%s: %d of %d MB", says, p.CoveredMiB, p.OfMiB)
	if p.Copy > 0 && p.Latency > 0 {
		line += fmt.Sprintf("; copies %.1f GB/s, access time %.0f ns", p.Copy/1000, p.Latency)
	}
	if p.Date != "" {
		line += ", " + p.Date
	}
	return line
}

func proofOf(p records.Proof) Proof {
	figure := func(v float64) prove.Figure { return prove.Figure{Median: v, Spread: p.Spread} }
	return Proof{Read: figure(p.Read), Write: figure(p.Write), Copy: figure(p.Copy), Busy: p.Busy}
}

// ShareOf reads how much memory is to be proved: a share of what is available, "80%", or a
// size, "512MB". The error is an InputError.
func ShareOf(text string, available uint64) (bytes uint64, err error) {
	var percent float64
	if n, err := fmt.Sscanf(text, "%f%%", &percent); err == nil && n == 1 && percent > 0 && percent <= 95 {
		return uint64(float64(available) * percent / 100), nil
	}
	size, err := jedec.ParseCapacity(text)
	if err != nil || size == 0 {
		return 0, input("--memory %q: a share of up to 95%%, or a size, as 80%% or 512MB", text)
	}
	return uint64(size), nil
}

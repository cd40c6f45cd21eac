package catalogue

import (
	"slices"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A Past is what earlier jobs of the workshop's showed on machines of one make. Like
// [Ran] it limits nothing and proves nothing of the next one.
type Past struct {
	Ran    []Ran
	Failed []Failure
	Jobs   []string // that it comes from, each once
}

// A Failure is a job after which less was there than was predicted, or memory was not
// sound.
type Failure struct {
	Total   maybe.Value[jedec.Capacity] // that was to be there
	Each    maybe.Value[jedec.Capacity] // of the largest module that was put in
	Modules string                      // that were put in
	Says    string                      // what was found instead
	Faulty  bool                        // it was all there, and not sound
	When    string
	Job     string
}

// WithPast returns a catalogue that also knows what earlier jobs on machines of the
// make that is on the bench showed.
func (k Catalogue) WithPast(p Past) Catalogue {
	return Catalogue{own: k.own, past: p}
}

// Past is what earlier jobs on machines of this make showed.
func (k Catalogue) Past() Past { return k.past }

// Held counts the jobs after which at least so much memory was there as predicted, and those
// after which no more than that was to be there and less was. Modules that were faulty say
// nothing of the machine.
func (p Past) Held(total jedec.Capacity) (held, failed int) {
	for _, r := range p.Ran {
		if r.Total.Or(0) >= total {
			held += r.Times
		}
	}
	for _, f := range p.Failed {
		if size, ok := f.Total.Get(); ok && size <= total && !f.Faulty {
			failed++
		}
	}
	return held, failed
}

// Sure are the experiences that more than one job made and none contradicts.
func (p Past) Sure() (sure []Ran) {
	for _, r := range p.Ran {
		if _, failed := p.Held(r.Total.Or(0)); r.Times > 1 && failed == 0 && !slices.Contains(sure, r) {
			sure = append(sure, r)
		}
	}
	return sure
}

package jobs

import (
	"cmp"
	"slices"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A LessonKind is what an outcome was.
type LessonKind string

// The kinds of lessons.
const (
	Held   LessonKind = "held"   // found as predicted
	Failed LessonKind = "failed" // less was found than was predicted
	Faulty LessonKind = "faulty" // memory did not read back as it was written
)

// A Lesson is what one job shows of machines like its own: what was fitted, and what came
// of it. It is one observation; it proves nothing of the next machine.
type Lesson struct {
	Kind      LessonKind `json:"kind"`
	TotalMiB  uint64     `json:"total_mib"`          // that was to be there
	EachMiB   uint64     `json:"each_mib,omitempty"` // of the largest module in a socket
	RateMTs   int        `json:"rate_mts,omitempty"` // at which it ran
	Modules   string     `json:"modules,omitempty"`  // that were put in
	Says      string     `json:"says,omitempty"`     // what was not as predicted
	Date      string     `json:"date"`
	Withdrawn bool       `json:"withdrawn,omitempty"` // somebody took it back
}

// A Taught is a lesson with the job that it comes from.
type Taught struct {
	Job string
	Lesson
}

// Past is what jobs on machines of one make show together: alike experience is counted.
// What was withdrawn counts for nothing.
func Past(taught []Taught) (past catalogue.Past) {
	for _, t := range taught {
		if t.Withdrawn {
			continue
		}
		total, each := size(t.TotalMiB), size(t.EachMiB)
		if t.Kind == Held {
			r := catalogue.Ran{Total: total, Each: each, Rate: maybe.If(jedec.Rate(t.RateMTs), t.RateMTs > 0)}
			i := slices.IndexFunc(past.Ran, func(x catalogue.Ran) bool {
				return x.Total == r.Total && x.Each == r.Each && x.Rate == r.Rate
			})
			if i < 0 {
				i, past.Ran = len(past.Ran), append(past.Ran, r)
			}
			past.Ran[i].Times++
			past.Ran[i].When = max(past.Ran[i].When, t.Date)
			past.Jobs = append(past.Jobs, t.Job)
			continue
		}
		past.Failed = append(past.Failed, catalogue.Failure{Total: total, Each: each, Modules: t.Modules, Says: t.Says,
			Faulty: t.Kind == Faulty, When: t.Date, Job: t.Job})
		past.Jobs = append(past.Jobs, t.Job)
	}
	slices.SortStableFunc(past.Ran, func(a, b catalogue.Ran) int {
		return cmp.Or(cmp.Compare(b.Times, a.Times), cmp.Compare(b.When, a.When))
	})
	slices.Sort(past.Jobs)
	past.Jobs = slices.Compact(past.Jobs)
	return past
}

func size(mib uint64) maybe.Value[jedec.Capacity] {
	return maybe.If(jedec.Capacity(mib)*jedec.MiB, mib > 0)
}

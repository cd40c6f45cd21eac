package bench

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"time"

	"epitome/core/card"
	"epitome/core/docket"
	"epitome/core/jobs"
	"epitome/core/machine"
	"epitome/core/plain"
	"epitome/core/records"
)

// What the job log's commands hand on goes by these names.
type (
	// A Job is one machine's way through the workshop.
	Job = jobs.Job
	// A JobSummary is what a job's card comes to.
	JobSummary = jobs.Summary
	// A JobEvent is something that was done on a job.
	JobEvent = jobs.Event
	// A JobFilter says which jobs are listed.
	JobFilter = jobs.Filter
	// A JobState is how far a job is.
	JobState = jobs.State
	// A Lesson is what one job shows of machines like its own.
	Lesson = jobs.Lesson
	// A Taught is a lesson with its job.
	Taught = jobs.Taught
)

// JobStates are all states of a job.
var JobStates = jobs.States

// MostJobs is the highest number of a year.
const MostJobs = jobs.Most

// JobNumber writes a job's number.
func JobNumber(year, which int) string { return jobs.Number(year, which) }

// ParseJobNumber takes a number apart. The error is an InputError.
func ParseJobNumber(text string) (year, which int, err error) {
	if year, which, err = jobs.ParseNumber(text); err != nil {
		err = &InputError{err}
	}
	return year, which, err
}

// ParseJob reads a line of an export. The error wraps jobs.ErrLine.
func ParseJob(line []byte) (Job, error) { return jobs.ParseLine(line) }

// JobFilterOf reads a filter as typed. The error is an InputError.
func JobFilterOf(f JobFilter) (JobFilter, error) {
	if f.State != "" {
		known := false
		var words []string
		for _, s := range jobs.States {
			known = known || s == f.State
			words = append(words, string(s))
		}
		if !known {
			return f, input("--state %q is not known; it is %s", f.State, strings.Join(words, ", "))
		}
	}
	for flag, day := range map[string]string{"--since": f.Since, "--until": f.Until} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
			return f, input("%s %q is no day; write it as 2026-11-02", flag, day)
		}
	}
	if f.OnlyOpen && f.OnlyEnded {
		return f, input("--open and --closed leave nothing; give one")
	}
	return f, nil
}

// JobSummary is what the card comes to, as a job log keeps it. text is the card's file.
func (b *Bench) JobSummary(text []byte) JobSummary {
	m := b.Machine()
	sum := sha256.Sum256(text)
	s := JobSummary{Title: b.Title(), Maker: plain.Line(m.Maker.Or("")), Model: plain.Line(m.Model.Or("")),
		Board: plain.Line(m.Board.Or("")), Made: b.card.Made.UTC().Format(time.RFC3339), Sum: hex.EncodeToString(sum[:]),
		State: jobs.Read, BeforeMiB: m.Totals.Installed.Or(0).MiB()}
	plan, planned, err := b.Plan()
	if planned && err == nil && len(plan.Ways) > 0 {
		s.State = jobs.Proposed
	}
	outcome, taken, ok := b.lastOutcome()
	if ok {
		s.State, s.AfterMiB = jobs.Fitted, outcome.TotalMB
		if outcome.Result == "differs" {
			s.State = jobs.Differs
		}
		s.Lessons = append(s.Lessons, b.lessonOf(outcome, plan)...)
	}
	proof, proved := b.lastProof()
	switch {
	case !proved:
	case len(proof.Faults)+proof.MoreFaults > 0:
		s.State = jobs.Differs
		faulty := Lesson{Kind: jobs.Faulty, Date: proof.Date, TotalMiB: max(s.AfterMiB, s.BeforeMiB),
			Says: fmt.Sprintf("%s in %d MB that were proved", plain.Count(len(proof.Faults)+proof.MoreFaults, "fault"),
				proof.CoveredMiB)}
		if len(s.Lessons) > 0 {
			faulty.Modules, faulty.EachMiB = s.Lessons[0].Modules, s.Lessons[0].EachMiB
		}
		s.Lessons = append(s.Lessons, faulty)
	case s.State == jobs.Fitted && proof.Sound() && !b.proofTaken().Before(taken):
		s.State = jobs.Proved
	}
	return s
}

// lastOutcome is what the last recheck found, and when.
func (b *Bench) lastOutcome() (o records.Outcome, taken time.Time, ok bool) {
	for _, r := range b.card.Of(card.Outcome) {
		if x, err := records.ParseOutcome(r.Data); err == nil {
			o, taken, ok = x, r.Taken, true
		}
	}
	return o, taken, ok
}

func (b *Bench) lastProof() (p records.Proof, ok bool) {
	all := b.Proofs()
	if len(all) == 0 {
		return p, false
	}
	return all[len(all)-1], true
}

func (b *Bench) proofTaken() (taken time.Time) {
	for _, r := range b.card.Of(card.Proof) {
		taken = r.Taken
	}
	return taken
}

// lessonOf is what an outcome shows of machines like this one. What a recheck could not
// tell shows nothing.
func (b *Bench) lessonOf(o records.Outcome, plan docket.Plan) []Lesson {
	l := Lesson{Kind: jobs.Held, TotalMiB: o.TotalMB, Date: o.Date}
	soldered := make(map[string]bool)
	for _, p := range b.Machine().Places {
		soldered[p.Name] = p.Attach.Or("") == machine.Soldered
	}
	for _, p := range o.Places {
		if !soldered[p.Name] {
			l.EachMiB = max(l.EachMiB, p.MiB)
		}
		if p.Rate > 0 && (l.RateMTs == 0 || p.Rate < l.RateMTs) {
			l.RateMTs = p.Rate
		}
	}
	if w, err := plan.Way(o.Proposal); err == nil {
		l.Modules = putInWords(w)
	}
	switch o.Result {
	case "as predicted":
		return []Lesson{l}
	case "differs":
		l.Kind, l.RateMTs = jobs.Failed, 0
		for _, d := range o.Differs {
			if d.About == "Memory fitted" {
				l.Says = fmt.Sprintf("%s were predicted and %s found", d.Predicted, d.Found)
			}
		}
		t, err := b.predictedTotal(plan, o.Proposal)
		if l.Says == "" || err != nil || t <= o.TotalMB {
			return nil // something else differs, the memory is all there
		}
		l.TotalMiB = t
		return []Lesson{l}
	}
	return nil
}

// predictedTotal is what a kept proposal comes to, in MiB.
func (b *Bench) predictedTotal(plan docket.Plan, number int) (uint64, error) {
	w, err := plan.Way(number)
	if err != nil {
		return 0, err
	}
	p, err := w.Trial()
	if err != nil {
		return 0, err
	}
	t, err := b.builtFor(w).bench.Try(p)
	return t.Total.MiB(), err
}

// putInWords names the modules that a way puts in, as the slip has them.
func putInWords(w Way) string {
	var texts []string
	count := make(map[string]int)
	for _, p := range w.Put {
		if p.From != "" || p.Stick == "" {
			continue
		}
		text := plain.Line(p.Stick)
		if count[text]++; count[text] == 1 {
			texts = append(texts, text)
		}
	}
	for i, text := range texts {
		texts[i] = fmt.Sprintf("%d × %s", count[text], text)
	}
	return strings.Join(texts, ", ")
}

// Make is what the machine has in common with others of its make; empty where its maker, or
// board and model, have no name.
func (b *Bench) Make() string {
	m := b.Machine()
	return JobSummary{Maker: m.Maker.Or(""), Model: m.Model.Or(""), Board: m.Board.Or("")}.Key()
}

// Remembering is the bench with what earlier jobs on machines of this make showed; the
// card's own job is none of them.
func (b *Bench) Remembering(taught []Taught) *Bench {
	var others []Taught
	for _, t := range taught {
		if t.Job != b.card.Job {
			others = append(others, t)
		}
	}
	if len(others) == 0 {
		return b
	}
	return New(b.card, b.catalogue.WithPast(jobs.Past(others)))
}

// ErrJobTaken: the card has a job already.
var ErrJobTaken = errors.New("the card has a job already")

// GiveJob writes a job's number onto a card. The error wraps ErrJobTaken.
func GiveJob(c *Card, number string) error {
	if c.Job != "" && c.Job != number {
		return fmt.Errorf("%w: %s", ErrJobTaken, plain.Line(c.Job))
	}
	c.Job = number
	return nil
}

// Earlier says, a sentence each, what earlier jobs on machines of this make showed.
func (b *Bench) Earlier() (says []string) {
	past := b.Ceilings().Past()
	for _, r := range past.Ran {
		text := fmt.Sprintf("%s in all ran as predicted on %s", orAsk(r.Total), plain.Count(r.Times, "machine"))
		if rate, ok := r.Rate.Get(); ok {
			text += fmt.Sprintf(" at %v", rate)
		}
		if each, ok := r.Each.Get(); ok {
			text += fmt.Sprintf(", with modules of %v", each)
		}
		says = append(says, text+", last on "+r.When)
	}
	for _, f := range past.Failed {
		text := "job " + f.Job + ", " + f.When
		if f.Modules != "" {
			text += ", with " + f.Modules
		}
		says = append(says, text+": "+f.Says)
	}
	return says
}

package view

import (
	"cmp"
	"fmt"
	"io"
	"path/filepath"
	"slices"
	"strings"

	"epitome/core/bench"
	"epitome/core/jedec"
	"epitome/core/jobs"
)

// Jobs lists jobs, the newest first.
func (p *Page) Jobs(list []bench.Job) {
	open := 0
	for _, j := range list {
		if j.Closed == "" {
			open++
		}
	}
	if len(list) == 0 {
		p.Headline("No jobs.")
		p.Blank()
		p.Para(2, "", "epitome jobs open CARD opens one.")
		return
	}
	p.Headline(sentence(fmt.Sprintf("%s, %d of them open.", count(len(list), "job"), open)))
	p.Blank()
	var rows [][]string
	for _, j := range slices.Backward(list) {
		state := string(j.State)
		if j.Closed != "" {
			state += ", closed"
		}
		rows = append(rows, []string{j.Number, j.Opened, state, cmp.Or(j.Machine(), "not known"), j.Title,
			mebibytes(j.BeforeMiB), mebibytes(j.AfterMiB)})
	}
	p.Table([]Column{{"Job", Left, 0}, {"Opened", Left, 0}, {"State", Left, 0}, {"Machine", Left, 20},
		{"Title", Left, Rest},
		{"Was", Right, 0}, {"Is", Right, 0}}, rows)
}

// mebibytes writes a size, empty where it is not known.
func mebibytes(mib uint64) string {
	if mib == 0 {
		return ""
	}
	return (jedec.Capacity(mib) * jedec.MiB).String()
}

// Job lays out one job: what it is, what was done, what it showed.
func (p *Page) Job(j bench.Job) {
	says := map[jobs.State]string{jobs.Read: "read", jobs.Proposed: "proposals are kept", jobs.Fitted: "fitted",
		jobs.Proved: "fitted, and proved sound", jobs.Differs: "not as predicted, or not sound"}[j.State]
	if j.Closed != "" {
		says += ", closed on " + j.Closed
	}
	p.Headline(fmt.Sprintf("Job %s: %s.", j.Number, says))
	p.Blank()
	size := mebibytes(j.BeforeMiB)
	if j.AfterMiB > 0 {
		size = fmt.Sprintf("%s before, %s after", cmp.Or(size, "not known"), mebibytes(j.AfterMiB))
	}
	for _, row := range [][2]string{{"machine", j.Machine()}, {"board", j.Board}, {"title", j.Title}, {"opened", j.Opened},
		{"memory", size}, {"card", j.Card}, {"copy", map[bool]string{true: "kept; --card FILE writes it"}[j.Copy != ""]}} {
		if row[1] != "" {
			p.Para(12, "  "+row[0], row[1])
		}
	}
	if len(j.Events) > 0 {
		p.Blank()
		p.Heading("What was done")
		var rows [][]string
		for _, e := range j.Events {
			rows = append(rows, []string{strings.NewReplacer("T", " ", "Z", "").Replace(e.At), e.Did, e.Says})
		}
		p.Table([]Column{{"UTC", Left, 0}, {"Command", Left, 0}, {"", Left, Rest}}, rows)
	}
	if len(j.Lessons) > 0 {
		p.Blank()
		p.Heading("What it shows of its make")
		for _, l := range j.Lessons {
			p.Para(4, "  - ", lessonSays(l))
		}
	}
}

// lessonSays is one lesson as a sentence.
func lessonSays(l bench.Lesson) string {
	total := mebibytes(l.TotalMiB)
	says := map[jobs.LessonKind]string{jobs.Held: total + " ran as predicted", jobs.Failed: total + " failed: " + l.Says,
		jobs.Faulty: "not sound: " + l.Says}[l.Kind]
	if l.RateMTs > 0 {
		says += fmt.Sprintf(" at %d MT/s", l.RateMTs)
	}
	if l.Modules != "" {
		says += ", with " + l.Modules
	}
	if l.Date != "" {
		says += ", " + l.Date
	}
	if l.Withdrawn {
		says += " (withdrawn: it does not count)"
	}
	return says
}

// Taught lists what earlier jobs showed.
func (p *Page) Taught(list []bench.Taught) {
	kinds := make(map[jobs.LessonKind]int)
	for _, t := range list {
		if !t.Withdrawn {
			kinds[t.Kind]++
		}
	}
	if len(list) == 0 {
		p.Headline("Earlier jobs show nothing of it.")
		return
	}
	p.Headline(sentence(fmt.Sprintf("%s: %d as predicted, %d failed, %d not sound.", count(len(list), "lesson"),
		kinds[jobs.Held], kinds[jobs.Failed], kinds[jobs.Faulty])))
	p.Blank()
	var rows [][]string
	for _, t := range list {
		rows = append(rows, []string{t.Job, lessonSays(t.Lesson)})
	}
	p.Table([]Column{{"Job", Left, 0}, {"What it shows", Left, Rest}}, rows)
}

// Earlier says what earlier jobs on machines of this make showed; nothing where there are
// none.
func (p *Page) Earlier(says []string) {
	if len(says) == 0 {
		return
	}
	p.Blank()
	p.Heading("Earlier jobs on machines of this make")
	for _, s := range says {
		p.Para(4, "  - ", s+".")
	}
}

type jobJSON struct {
	Job       string           `json:"job"`
	Machine   string           `json:"machine"`
	Board     string           `json:"board"`
	Title     string           `json:"title"`
	Opened    string           `json:"opened"`
	Closed    *string          `json:"closed"`
	State     jobs.State       `json:"state"`
	BeforeMiB *uint64          `json:"before_mib"`
	AfterMiB  *uint64          `json:"after_mib"`
	Card      string           `json:"card"`
	Events    []bench.JobEvent `json:"events,omitempty"`
	Lessons   []bench.Lesson   `json:"lessons,omitempty"`
}

func jobOf(j bench.Job) jobJSON {
	return jobJSON{Job: j.Number, Machine: j.Machine(), Board: j.Board, Title: j.Title, Opened: j.Opened,
		Closed: unlessZero(j.Closed), State: j.State, BeforeMiB: unlessZero(j.BeforeMiB), AfterMiB: unlessZero(j.AfterMiB),
		Card: filepath.ToSlash(j.Card), Events: j.Events, Lessons: j.Lessons}
}

// unlessZero is null in JSON where nothing is known.
func unlessZero[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

// JobsJSON is the list of jobs as JSON has it.
func JobsJSON(list []bench.Job) any {
	out := struct {
		Schema string    `json:"schema"`
		Jobs   []jobJSON `json:"jobs"`
	}{"epitome.jobs.v1", []jobJSON{}}
	for _, j := range list {
		out.Jobs = append(out.Jobs, jobOf(j))
	}
	return out
}

// JobJSON is one job, with what was done and what it showed.
func JobJSON(j bench.Job) any { return JobsJSON([]bench.Job{j}) }

// TaughtJSON is what earlier jobs showed, as JSON has it.
func TaughtJSON(list []bench.Taught) any {
	type taught struct {
		Job string `json:"job"`
		bench.Lesson
	}
	out := struct {
		Schema  string   `json:"schema"`
		Lessons []taught `json:"lessons"`
	}{"epitome.taught.v1", []taught{}}
	for _, t := range list {
		out.Lessons = append(out.Lessons, taught(t))
	}
	return out
}

// WriteJSONLines writes lines of JSON. Characters that act on a terminal are escaped.
func WriteJSONLines(w io.Writer, lines []byte) error {
	_, err := escaper{w}.Write(lines)
	return err
}

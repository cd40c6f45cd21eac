// Package jobs is what the workshop remembers of its work: which jobs there are and how
// far each is, and what their outcomes teach of the next machine of the same board. A log
// is kept elsewhere; what stands in it is here.
package jobs

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
)

// A State is how far a job is.
type State string

// The states, in the order in which a job goes through them; Differs stands for Fitted or
// Proved where something was not as predicted, or not sound.
const (
	Read     State = "read"     // a card was made
	Proposed State = "proposed" // proposals were kept
	Fitted   State = "fitted"   // a recheck found it as predicted, or could not tell
	Proved   State = "proved"   // and the memory was proved sound afterwards
	Differs  State = "differs"  // it was not as predicted, or not sound
)

// States are all states.
var States = []State{Read, Proposed, Fitted, Proved, Differs}

// A Job is one machine's way through the workshop.
type Job struct {
	Number string `json:"job"`
	Opened string `json:"opened"`           // a day, 2026-11-02
	Closed string `json:"closed,omitempty"` // a day; empty while it is open
	Card   string `json:"card"`             // its file, as it was last named
	Summary
	Events []Event `json:"events,omitempty"`
}

// A Summary is what a job's card comes to.
type Summary struct {
	Title     string   `json:"title,omitempty"` // the customer's word
	Maker     string   `json:"maker,omitempty"`
	Model     string   `json:"model,omitempty"`
	Board     string   `json:"board,omitempty"`
	Made      string   `json:"made"` // when the card was, RFC 3339: a card has one all its life
	Sum       string   `json:"sum"`  // SHA-256 of the card's text, in hexadecimal
	State     State    `json:"state"`
	BeforeMiB uint64   `json:"before_mib"` // 0 where not known
	AfterMiB  uint64   `json:"after_mib"`  // 0 before it was fitted
	Lessons   []Lesson `json:"lessons,omitempty"`
	Copy      string   `json:"copy,omitempty"` // the card's text, where the workshop keeps it
}

// An Event is something that was done.
type Event struct {
	At   string `json:"at"`  // RFC 3339, UTC
	Did  string `json:"did"` // the command
	Says string `json:"says"`
}

// Machine is the machine's name: maker and model, else the board's.
func (s Summary) Machine() string {
	model := s.Model
	if s.Maker != "" && !strings.HasPrefix(strings.ToLower(model), strings.ToLower(s.Maker)+" ") {
		model = strings.TrimSpace(s.Maker + " " + model)
	}
	if s.Model == "" && s.Board != "" {
		return strings.TrimSpace(s.Maker + " " + s.Board)
	}
	return model
}

// Key is what two machines of one make have in common: maker, model and board, however
// they are written. It is empty where no board is known, and no model with its maker:
// then no machine is known to be like it.
func (s Summary) Key() string {
	if s.Board == "" && (s.Maker == "" || s.Model == "") {
		return ""
	}
	fold := func(x string) string { return strings.ToLower(strings.Join(strings.Fields(x), " ")) }
	return fold(s.Maker) + "|" + strings.TrimPrefix(fold(s.Model), fold(s.Maker)+" ") + "|" + fold(s.Board)
}

// Number writes a job's number: the year and which one it is in that year, from 1.
func Number(year, which int) string { return fmt.Sprintf("%04d-%03d", year, which) }

// ErrNumber: a text is no job's number.
var ErrNumber = errors.New("is no job's number; it is written as 2026-118")

// Most is the highest number of a year: what a workshop does in a thousand years, and what fits a card's line.
const Most = 999_999

// The years in which jobs are opened.
const firstYear, lastYear = 1980, 2999

// ParseNumber takes a number apart: a year and a number from 1 to [Most]. The error wraps ErrNumber.
func ParseNumber(text string) (year, which int, err error) {
	a, b, ok := strings.Cut(strings.TrimSpace(text), "-")
	year, err1 := strconv.Atoi(a)
	which, err2 := strconv.Atoi(b)
	if !ok || err1 != nil || err2 != nil || len(a) != 4 || len(b) < 3 || which < 1 || which > Most ||
		year < firstYear || year > lastYear || Number(year, which) != a+"-"+b {
		return 0, 0, fmt.Errorf("%q %w", text, ErrNumber)
	}
	return year, which, nil
}

// A Filter says which jobs are listed. What is empty leaves none out.
type Filter struct {
	State               State
	Machine, Board      string // a part of the name, however it is written
	Title               string // a part of the customer's word
	Since, Until        string // days, both included, on which the job was opened
	OnlyOpen, OnlyEnded bool
}

// Takes reports whether a job is listed.
func (f Filter) Takes(j Job) bool {
	has := func(text, part string) bool { return strings.Contains(strings.ToLower(text), strings.ToLower(part)) }
	return (f.State == "" || j.State == f.State) && has(j.Machine(), f.Machine) && has(j.Board, f.Board) &&
		has(j.Title, f.Title) && (f.Since == "" || j.Opened >= f.Since) && (f.Until == "" || j.Opened <= f.Until) &&
		!(f.OnlyOpen && j.Closed != "") && !(f.OnlyEnded && j.Closed == "")
}

// ErrLine is what every error of ParseLine wraps.
var ErrLine = errors.New("is no job; a file that jobs export wrote is wanted")

// Line writes a job as one line of JSON, as jobs are exported.
func (j Job) Line() ([]byte, error) {
	data, err := json.Marshal(j)
	return append(data, '\n'), err
}

// ParseLine reads a line that Line wrote. Errors wrap ErrLine.
func ParseLine(line []byte) (j Job, err error) {
	d := json.NewDecoder(strings.NewReader(string(line)))
	d.DisallowUnknownFields()
	if err := d.Decode(&j); err != nil {
		return j, fmt.Errorf("%w: %v", ErrLine, err)
	}
	if _, _, err := ParseNumber(j.Number); err != nil {
		return j, fmt.Errorf("%w: %v", ErrLine, err)
	}
	for _, day := range []string{j.Opened, j.Closed} {
		if _, err := time.Parse(time.DateOnly, day); err != nil && (day != "" || j.Opened == "") {
			return j, fmt.Errorf("%w: %s: %q is no day", ErrLine, j.Number, day)
		}
	}
	if !slices.Contains(States, j.State) {
		return j, fmt.Errorf("%w: %s: state %q is not known", ErrLine, j.Number, j.State)
	}
	for _, l := range j.Lessons {
		if l.Kind != Held && l.Kind != Failed && l.Kind != Faulty {
			return j, fmt.Errorf("%w: %s: a lesson of kind %q is not known", ErrLine, j.Number, l.Kind)
		}
	}
	return j, nil
}

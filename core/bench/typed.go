package bench

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"epitome/core/convert"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/narrow"
	"epitome/core/rule"
	"epitome/core/spd"
	"epitome/core/trial"
)

// An InputError is something that was typed and can't be used; it says how to write it.
type InputError struct{ err error }

func (e *InputError) Error() string { return e.err.Error() }

// Unwrap returns what was wrong.
func (e *InputError) Unwrap() error { return e.err }

func input(format string, args ...any) error { return &InputError{fmt.Errorf(format, args...)} }

// An OpenError is an answer that can't be given yet: a fact is missing.
type OpenError struct{ err error }

func (e *OpenError) Error() string { return e.err.Error() }

// Unwrap returns what is missing.
func (e *OpenError) Unwrap() error { return e.err }

// A RefusedError is the machine's own "no".
type RefusedError struct{ err error }

func (e *RefusedError) Error() string { return e.err.Error() }

// Unwrap returns why.
func (e *RefusedError) Unwrap() error { return e.err }

// A Stick is one module, however it is known.
type Stick = module.Module

// MostImage is the longest EEPROM image, in bytes.
const MostImage = spd.MaxSize

// StickOf reads a sticker's or a shop's text. Where it says nothing of a module and has the
// name of an image, that the file is not there is said.
func StickOf(text string) (Stick, error) {
	s, err := module.Parse(text)
	if errors.Is(err, module.ErrNothing) && (strings.HasSuffix(text, ".bin") || strings.HasSuffix(text, ".spd")) {
		err = fmt.Errorf("%s is not there, and as text it says nothing about a module", text)
	}
	return s, err
}

// StickFrom reads an EEPROM image; from names it.
func StickFrom(from string, image []byte) (Stick, error) { return module.FromImage(from, image) }

// Apart takes kits apart.
func Apart(sticks []Stick) (all []Stick) {
	for _, s := range sticks {
		all = append(all, s.Apart()...)
	}
	return all
}

// GradesAt finds the grade that a rate is in each stick's own generation; none where no
// rate is given. The error is an InputError.
func GradesAt(at string, sticks []Stick) ([]jedec.Grade, error) {
	if at == "" {
		return nil, nil
	}
	grades := make([]jedec.Grade, len(sticks))
	rate, err := strconv.Atoi(strings.TrimSpace(at))
	if err != nil {
		return nil, input("--at %q is no rate; write the figure, as 2133", at)
	}
	for i, s := range sticks {
		g, _ := s.Generation.Get()
		grade := jedec.AnyGrade(g, jedec.Rate(rate))
		if standard := jedec.Grades(g); len(standard) == 0 || grade.Rate < standard[0].Rate {
			_, _, err := jedec.ParseGrade(fmt.Sprintf("%v-%d", g, rate))
			return nil, input("--at: %w", err)
		}
		grades[i] = grade
	}
	return grades, nil
}

// Mix tries sticks beside one another, machine aside. rates are those that the machine
// knows, apart by commas; empty for every standard one. The error is an InputError.
func Mix(sticks []Stick, rates string) (m trial.Mixed, err error) {
	list, err := ratesOf(rates)
	if err != nil {
		return m, err
	}
	return trial.Mix(sticks, list), nil
}

func ratesOf(text string) (list []jedec.Rate, err error) {
	if text == "" {
		return nil, nil
	}
	for part := range strings.SplitSeq(text, ",") {
		n, err := strconv.Atoi(strings.TrimSpace(part))
		if err != nil || n <= 0 {
			return nil, input("--rates %q: write data rates in MT/s, as 2133,2400", text)
		}
		list = append(list, jedec.Rate(n))
	}
	return list, nil
}

// Rules lists the rules by which sticks are judged.
func Rules() []trial.Rule { return trial.Rules() }

// Inferences lists what is taken for likely where nobody has looked.
func Inferences() []trial.Inference { return trial.Inferences() }

// Convert gives every honest reading of a figure of the trade. at is the rate or grade for
// a time or a latency. The error is an InputError.
func Convert(figure, at string) (convert.Result, error) {
	r, err := convert.From(figure, at)
	if errors.Is(err, convert.ErrFigure) || errors.Is(err, jedec.ErrGrade) {
		err = &InputError{err}
	}
	return r, err
}

// Clues are what somebody knows of a machine or a module, as typed; what is empty or 0 is
// not known.
type Clues struct {
	Year, Contacts, Slots                    int
	NotchMM                                  float64
	Form, Marking, Clock, Volts, Total, Note string
}

// Narrow works out what remains possible by all clues together. The error is an InputError.
func Narrow(c Clues) (r narrow.Result, err error) {
	if c == (Clues{}) {
		return r, input("no clue given; give one or more, as in --pins 204 or --total 12GB --slots 2")
	}
	clues := narrow.Clues{Marking: c.Marking, Note: c.Note}
	if c.Year != 0 && (c.Year < 1990 || c.Year > 2100) {
		return r, input("--year %d: a year such as 2012", c.Year)
	}
	if c.Contacts < 0 || c.Slots < 0 || c.Slots > 32 || c.NotchMM != 0 && !(c.NotchMM > 0 && c.NotchMM <= 140) {
		return r, input("--pins, --slots (1 to 32) and --notch (mm, up to 140) are positive figures")
	}
	clues.Year, clues.Contacts = maybe.If(c.Year, c.Year != 0), maybe.If(c.Contacts, c.Contacts != 0)
	clues.Slots, clues.NotchMM = maybe.If(c.Slots, c.Slots != 0), maybe.If(c.NotchMM, c.NotchMM != 0)
	if c.Form != "" {
		form, ok := jedec.ParseForm(c.Form)
		if !ok {
			return r, input("--form %q is not known; it is DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM, CAMM2 or soldered", c.Form)
		}
		clues.Form = maybe.Just(form)
	}
	if clues.MHz, err = figureOf("clock", c.Clock, "mhz", "800"); err != nil {
		return r, err
	}
	volts, err := figureOf("volts", c.Volts, "v", "1.35")
	if err != nil {
		return r, err
	}
	clues.MilliVolts = maybe.Map(volts, func(v float64) int { return int(v*1000 + 0.5) })
	if c.Total != "" {
		total, err := jedec.ParseCapacity(c.Total)
		if err != nil || total == 0 {
			return r, input("--total %q is not a size; write a number with MB or GB, as in 12GB", c.Total)
		}
		clues.Total = maybe.Just(total)
	}
	r, err = narrow.From(clues)
	if errors.Is(err, narrow.ErrClue) {
		err = &InputError{err}
	}
	return r, err
}

// figureOf reads a figure with or without its unit.
func figureOf(flag, text, unit, sample string) (maybe.Value[float64], error) {
	if text == "" {
		return maybe.None[float64](), nil
	}
	bare := strings.TrimSpace(strings.TrimSuffix(strings.ToLower(strings.TrimSpace(text)), unit))
	v, err := strconv.ParseFloat(strings.Replace(bare, ",", ".", 1), 64)
	if err != nil || !(v > 0 && v < 1e6) {
		return maybe.None[float64](), input("--%s %q is not a figure; write it as --%s %s", flag, text, flag, sample)
	}
	return maybe.Just(v), nil
}

// A Put is a place and the stick that goes there.
type Put = trial.Put

// A TrialOrder is which sticks go into a machine, and what is taken out of it first.
type TrialOrder = trial.Plan

// TryOrder puts sticks into the machine. Where it is not known in which places they could go,
// it is tried in the likeliest of the ways in which the machine may be built, as proposals are;
// where none of them has a free socket, in the place of what is fitted. tried is the machine as
// it was taken. The error is an InputError where the order names what is not there, an OpenError
// where a fact is missing, and else a RefusedError.
func (b *Bench) TryOrder(o TrialOrder) (t trial.Trial, tried *Bench, err error) {
	t, err = trial.Run(b.Machine(), b.Ceilings(), o)
	if errors.Is(err, trial.ErrUnclear) {
		for _, x := range b.builds() {
			if assumed, e := trial.Run(x.bench.Machine(), x.bench.Ceilings(), o); e == nil {
				assumed.Verdict = max(assumed.Verdict, map[bool]Verdict{true: rule.Leans, false: rule.CannotTell}[x.leads])
				return depending(assumed, x), x.bench, nil
			}
		}
	}
	if errors.Is(err, trial.ErrUnclear) || errors.Is(err, trial.ErrNoRoom) {
		t, err = b.Try(o)
	}
	switch {
	case err == nil:
	case errors.Is(err, trial.ErrNoPlace), errors.Is(err, trial.ErrEmpty), errors.Is(err, trial.ErrTaken),
		errors.Is(err, trial.ErrNothing):
		err = &InputError{err}
	case errors.Is(err, trial.ErrUnclear):
		err = &OpenError{err}
	default: // soldered, no room
		err = &RefusedError{err}
	}
	return t, b, err
}

// Pays answers whether the fastest of the new modules of a trial pays, where it is rated above what it runs at.
func (b *Bench) Pays(o TrialOrder, t trial.Trial) maybe.Value[trial.Faster] {
	if len(t.Instead) > 0 {
		o.Pull = append(slices.Clone(o.Pull), t.Instead...)
	}
	return maybe.If(trial.Pays(b.Machine(), b.Ceilings(), o, t))
}

// MayGo answers whether the machine may go to a size or a rate. The error is an InputError.
func (b *Bench) MayGo(goal string) (Going, error) {
	if size, err := jedec.ParseCapacity(goal); err == nil && size > 0 {
		return b.MayReach(size), nil
	}
	if rate, ok := rateOf(goal); ok {
		return b.MayRun(rate), nil
	}
	return Going{}, input("--for %q is neither a size, as 32GB, nor a rate in MT/s, as 3200", goal)
}

package bench

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"epitome/core/card"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/plain"
	"epitome/core/records"
)

// A Form is what somebody enters by hand of a machine.
type Form = records.Hand

// A FormPlace is a place in a form.
type FormPlace = records.HandPlace

// BlankForm is a form to fill in with an editor.
func BlankForm() string { return records.HandTemplate() }

// NewForm is a form with nothing in it.
func NewForm() Form { return Form{Version: 1} }

// Entered reports whether a form says anything of a machine.
func Entered(h Form) bool {
	return len(h.Machine) > 0 || len(h.Places) > 0 || h.Maximum.Size != "" || h.PerSlot.Size != "" ||
		h.Rate > 0 || h.Takes != "" || h.Supply != "" || h.SlotsAChannel > 0 || h.Sockets > 0 || len(h.Distrust) > 0
}

// A Seen is what a technician saw: facts and lines of a settings panel, with who and from
// what kind of source.
type Seen struct {
	By, Source string
	NewPlace   bool // the place is one that no reading lists
	Texts      []string
}

// Observe makes readings of what was seen, and says of each what it adds. The error is an
// InputError.
func (b *Bench) Observe(seen Seen, now time.Time) (readings []card.Reading, did []string, err error) {
	facts, panel := panelLines(seen.Texts)
	if len(panel) > 0 {
		readings, did = append(readings, panelReading(panel, now)), append(did, "noted "+strings.Join(panel, "; "))
	}
	if len(facts) == 0 {
		return readings, did, nil
	}
	h := Form{Version: 1, By: seen.By, Source: seen.Source}
	for _, fact := range facts {
		name, value, found := strings.Cut(fact, "=")
		name, value = strings.TrimSpace(name), strings.TrimSpace(value)
		if !found || name == "" || value == "" {
			return nil, nil, input(`%q is no observation; write FACT=VALUE, as "attach of DIMM 0=soldered"`, fact)
		}
		if err := b.observed(&h, name, value, seen.NewPlace); err != nil {
			return nil, nil, err
		}
	}
	r, err := handReading("observed", h, now)
	if err != nil {
		return nil, nil, &InputError{err}
	}
	return append(readings, r), append(did, "observed "+strings.Join(facts, "; ")), nil
}

// Accepts reports an InputError where a fact can't have a value.
func (b *Bench) Accepts(fact, value string) error {
	h := NewForm()
	return b.observed(&h, fact, value, false)
}

// AssumingFacts lays facts over the card that nobody has seen, "maximum=32GB". They are
// written nowhere. The error is an InputError.
func (b *Bench) AssumingFacts(facts []string) (*Bench, error) {
	if len(facts) == 0 {
		return b, nil
	}
	h := Form{Version: 1, By: "assumption"}
	for _, fact := range facts {
		name, value, found := strings.Cut(fact, "=")
		name, value = strings.TrimSpace(name), strings.TrimSpace(value)
		if !found || name == "" || value == "" {
			return nil, input("--assume %q: write FACT=VALUE, as observe takes it", fact)
		}
		if err := b.observed(&h, name, value, false); err != nil {
			return nil, err
		}
	}
	with, err := b.Assuming(h)
	if err != nil {
		return nil, input("--assume: %w", err)
	}
	return with, nil
}

// panelLines takes apart what is copied from a settings panel, which has no equals
// sign, and what is written as an observation.
func panelLines(all []string) (facts, panel []string) {
	for _, text := range all {
		if _, err := records.ParsePanel(text); err == nil && !strings.Contains(text, "=") {
			panel = append(panel, text)
		} else {
			facts = append(facts, text)
		}
	}
	return facts, panel
}

// PanelReading makes a reading of lines of a settings panel. The error is an InputError.
func PanelReading(lines []string, now time.Time) (card.Reading, error) {
	if _, err := records.ParsePanel(strings.Join(lines, "\n")); err != nil {
		return card.Reading{}, input("--panel: %w", err)
	}
	return panelReading(lines, now), nil
}

func panelReading(lines []string, now time.Time) card.Reading {
	return card.Reading{Kind: card.Panel, Source: "settings panel", How: "by hand", Taken: now,
		Data: []byte(strings.Join(lines, "\n"))}
}

// FormReading makes a reading of a form as its file has it. The error says what is wrong
// with it.
func FormReading(source string, data []byte, now time.Time) (card.Reading, error) {
	if _, err := records.ParseHand(data); err != nil {
		return card.Reading{}, fmt.Errorf("%s: %w", source, err)
	}
	return card.Reading{Kind: card.Hand, Source: source, How: "by hand", Taken: now, Data: data}, nil
}

// EnteredReading makes a reading of a form.
func EnteredReading(h Form, now time.Time) (card.Reading, error) {
	const source = "entered by hand"
	data, err := h.Encode()
	if err != nil {
		return card.Reading{}, err
	}
	return FormReading(source, data, now)
}

func handReading(source string, h Form, now time.Time) (card.Reading, error) {
	data, err := h.Encode()
	if err != nil {
		return card.Reading{}, err
	}
	if _, err := records.ParseHand(data); err != nil {
		return card.Reading{}, err
	}
	return card.Reading{Kind: card.Hand, Source: source, How: "by hand", Taken: now, Data: data}, nil
}

// StickerForm makes a form of PLACE=LABEL pairs. A sticker that can't be right is refused
// now, while it can still be looked at: the error is an InputError.
func StickerForm(pairs []string) (h Form, err error) {
	for _, pair := range pairs {
		place, text, found := strings.Cut(pair, "=")
		place, text = strings.TrimSpace(place), strings.TrimSpace(text)
		if !found || place == "" || text == "" {
			return h, input(`--sticker %q: write PLACE=LABEL, as "DIMM A=8GB 1Rx8 PC4-2400T-SA1-11"`, pair)
		}
		if err := AcceptHolds(text); err != nil {
			return h, input("--sticker: place %s: %w", place, err)
		}
		h.Places = append(h.Places, FormPlace{Name: place, Holds: text})
	}
	return h, nil
}

// observed puts one fact into a form.
func (b *Bench) observed(h *Form, name, value string, newPlace bool) error {
	fact, place, ofPlace := strings.Cut(name, " of ")
	place = strings.TrimSpace(place)
	if ofPlace && !newPlace {
		if err := listed(b.Machine(), place); err != nil {
			return err
		}
	}
	if fact == "holds" {
		if err := AcceptHolds(value); err != nil {
			return input("holds of %s: %w", place, err)
		}
	}
	if err := h.Observe(fact, place, value); err != nil {
		return &InputError{err}
	}
	if name == "distrust" {
		return b.onCard(value)
	}
	return nil
}

// listed reports an error that lists the places where there is none of the name.
func listed(m machine.Machine, place string) error {
	if m.PlaceCalled(place) != nil {
		return nil
	}
	var names []string
	for _, p := range m.Places {
		names = append(names, p.Name)
	}
	if len(names) == 0 {
		names = []string{"none yet"}
	}
	return input("there is no place %q on the card; there are: %s. --new-place adds one", plain.Line(place),
		strings.Join(names, ", "))
}

// onCard reports an error that lists the readings where none goes by the name.
func (b *Bench) onCard(name string) error {
	var names []string
	for _, r := range b.card.Readings {
		if r.Kind == card.Hand {
			continue
		}
		address := r.Address != "" && strings.HasSuffix(r.Address, strings.TrimPrefix(name, "0x"))
		if strings.EqualFold(string(r.Kind), name) || strings.Contains(r.Source, name) || address {
			return nil
		}
		names = append(names, fmt.Sprintf("%s (%s)", plain.Line(r.Source), r.Kind))
	}
	if len(names) == 0 {
		names = []string{"none"}
	}
	return input("no reading on the card goes by %q; there are: %s", plain.Line(name), strings.Join(names, ", "))
}

// Withdrawn marks the latest observation that still counts as withdrawn, and says when it
// was made; ok is false where there is none.
func Withdrawn(c *card.Card, now time.Time) (made time.Time, ok bool) {
	for i := len(c.Readings) - 1; i >= 0; i-- {
		r := &c.Readings[i]
		if r.Kind == card.Hand && r.Source == "observed" && r.Failure == "" {
			r.Failure = "withdrawn " + now.UTC().Format(time.DateOnly)
			return r.Taken, true
		}
	}
	return made, false
}

// What a form's questions accept; the error is what to write.

// A NameQuestion asks for one of the machine's names.
type NameQuestion struct {
	Word, Title string
	Accept      func(string) error
}

// NameQuestions are those that a form asks, in their order.
func NameQuestions() (list []NameQuestion) {
	for _, r := range machine.Rows() {
		if o := r.Observe; o.Name && o.Question != "" {
			list = append(list, NameQuestion{string(r.Topic), o.Question, o.Accept})
		}
	}
	return list
}

// Named enters one of the machine's names into a form; a blank one enters nothing.
func Named(h *Form, word, value string) {
	if value != "" {
		_ = h.Observe(word, "", value) // a word of the table
	}
}

// PlaceQuestion is what a form asks of a fact of a place, and what it accepts.
func PlaceQuestion(word string) (title string, accept func(string) error) {
	r, _ := machine.RowOf(machine.Topic(word), true)
	if accept = r.Observe.Accept; word == "holds" {
		accept = AcceptHolds
	}
	return r.Observe.Question, accept
}

// AcceptHolds takes a sticker's text, or that a place is free.
func AcceptHolds(s string) error {
	if records.IsFree(s) {
		return nil
	}
	_, err := module.Parse(s)
	return err
}

// AcceptSize takes a size of memory.
func AcceptSize(s string) error {
	if !(records.HandLimit{Size: s}).Capacity().Known() {
		return errors.New("a number with MB or GB, as 32GB")
	}
	return nil
}

// AcceptNewName takes a place's name that is not entered yet.
func AcceptNewName(have []FormPlace) func(string) error {
	return func(s string) error {
		if slices.ContainsFunc(have, func(p FormPlace) bool { return strings.EqualFold(p.Name, s) }) {
			return errors.New("that place is entered already")
		}
		return nil
	}
}

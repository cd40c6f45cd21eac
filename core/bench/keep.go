package bench

import (
	"fmt"
	"strings"
	"time"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/docket"
	"epitome/core/machine"
	"epitome/core/need"
	"epitome/core/plain"
	"epitome/core/propose"
	"epitome/core/recheck"
	"epitome/core/records"
)

// What commands hand on goes by these names; what it is stands where it is defined.
type (
	// A Card is what was read of one machine.
	Card = card.Card
	// A Reading is one source on a card.
	Reading = card.Reading
	// Known is what is known of processors, chipsets, boards and systems.
	Known = catalogue.Catalogue
	// A Series is memory as it was measured.
	Series = need.Series
	// A Sample is one moment of a series.
	Sample = need.Sample
)

// MostCard is the longest card, in bytes.
const MostCard = card.MaxSize

// ParseCard reads a card; what is damaged of it is named and left out.
func ParseCard(data []byte) (Card, error) { return card.Parse(data) }

// NewCard makes a card of readings.
func NewCard(made time.Time, title string, readings []Reading) Card {
	return Card{Made: made, Title: title, Readings: readings}
}

// Bare lays a card on the bench with nothing known of its parts but what is embedded.
func Bare(c Card) *Bench { return New(c, catalogue.Catalogue{}) }

// Name is the machine's name for a file: maker and model, else the board's; empty where it
// has none.
func (b *Bench) Name() string {
	m := b.Machine()
	if name := strings.TrimSpace(m.Maker.Or("") + " " + m.Model.Or("")); name != "" {
		return name
	}
	return m.Board.Or("")
}

// Title is the technician's own name for the job, as one line.
func (b *Bench) Title() string { return plain.Line(b.card.Title) }

// Unmatched are the module EEPROMs that could not be brought together with a place.
func (b *Bench) Unmatched() (list []machine.Conflict) {
	for _, c := range b.Machine().Conflicts {
		if c.About.Topic == machine.AboutEEPROM {
			list = append(list, c)
		}
	}
	return list
}

// TableFailed says why the firmware tables are not on the card; empty where they are, or
// where nobody tried to read them.
func (b *Bench) TableFailed() string {
	if len(b.card.Of(card.Table)) > 0 {
		return ""
	}
	for _, r := range b.card.Readings {
		if r.Kind == card.Table && len(r.Data) == 0 && r.Failure != "" {
			return r.Failure
		}
	}
	return ""
}

// PlanReading keeps proposals, with the sum of each price list that they rest on.
func PlanReading(r propose.Result, lists []docket.List, now time.Time) (Reading, error) {
	data, err := docket.PlanOf(r, lists).Encode()
	return Reading{Kind: card.Plan, Source: "propose", How: "worked out", Taken: now, Data: data}, err
}

// OutcomeReading keeps what a recheck found.
func (b *Bench) OutcomeReading(r recheck.Result, proposal int, now time.Time) (Reading, error) {
	data, err := b.Outcome(r, proposal, now.Format(time.DateOnly)).Encode()
	return Reading{Kind: card.Outcome, Source: "recheck", How: "compared", Taken: now, Data: data}, err
}

// watchMark begins a journal's first line: what the series will be on the card.
const watchMark = "epitome-watch"

// WatchReading begins the reading of a watch; its series is still to come.
func WatchReading(source string, now time.Time) Reading {
	return Reading{Kind: card.Series, Source: source, How: "live", Taken: now}
}

// JournalHead is what a watch's journal begins with.
func JournalHead(r Reading) string {
	return fmt.Sprintf("%s %s %s\n%s", watchMark, r.Taken.Format(time.RFC3339), r.Source, need.Series{}.Encode())
}

// ProofKind is the kind of reading that a proof is.
const ProofKind = card.Proof

// proofMark begins the journal of a proof, and proofEnd ends each of its entries: all that was known then, the latest
// last.
const proofMark, proofEnd = "epitome-proof-journal", "...\n"

// ProofJournalHead is what a proof's journal begins with.
func ProofJournalHead(now time.Time) string {
	return proofMark + " " + now.UTC().Format(time.RFC3339) + "\n"
}

// ProofJournalEntry is what is known of a proof at work, as its journal has it.
func ProofJournalEntry(r Proof, now time.Time) ([]byte, error) {
	reading, err := ProofReading(r, now)
	return append(reading.Data, proofEnd...), err
}

// provedSoFar reads a proof's journal: its last entry that is whole, no data where there is none.
func provedSoFar(name, head, rest string) (Reading, error) {
	taken, err := time.Parse(time.RFC3339, strings.TrimPrefix(head, proofMark+" "))
	if err != nil {
		return Reading{}, fmt.Errorf("%s is no journal of a proof: %q is no time", name, head)
	}
	end := strings.LastIndex(rest, proofEnd)
	if end < 0 {
		return Reading{}, nil
	}
	entry := rest[:end]
	if before := strings.LastIndex(entry, proofEnd); before >= 0 {
		entry = entry[before+len(proofEnd):]
	}
	if _, err := records.ParseProof([]byte(entry)); err != nil {
		return Reading{}, fmt.Errorf("%s: %w", name, err)
	}
	return Reading{Kind: card.Proof, Source: "prove", How: "live, cut short", Taken: taken.UTC(), Data: []byte(entry)}, nil
}

// Watched reads the journal of a watch or of a proof, which goes by a name. One that holds nothing whole yields no
// data. The error says what is wrong with it.
func Watched(name string, text []byte) (Reading, error) {
	head, rest, _ := strings.Cut(string(text), "\n")
	if strings.HasPrefix(head, proofMark+" ") {
		return provedSoFar(name, head, rest)
	}
	words := strings.SplitN(head, " ", 3)
	if len(words) < 3 || words[0] != watchMark {
		if len(text) == 0 {
			return Reading{}, nil // killed before the first line
		}
		return Reading{}, fmt.Errorf("%s is no journal of a watch; remove it, or name another", name)
	}
	taken, err := time.Parse(time.RFC3339, words[1])
	if err != nil {
		return Reading{}, fmt.Errorf("%s is no journal of a watch: %q is no time", name, words[1])
	}
	series, err := need.ParseSeries([]byte(rest))
	if err != nil {
		return Reading{}, fmt.Errorf("%s: %w", name, err)
	}
	r := WatchReading(words[2], taken.UTC())
	if len(series) > 0 {
		r.Data = series.Encode()
	}
	return r, nil
}

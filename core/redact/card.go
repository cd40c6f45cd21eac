// Package redact makes a copy of a card that can leave the shop. It shares what
// was understood and is known to be harmless, made anew from the decoded
// values, with stand-ins for serial numbers and people; what was not understood
// is left out and named. So a secret need not be looked for to stay home.
package redact

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"epitome/core/card"
	"epitome/core/docket"
	"epitome/core/module"
	"epitome/core/need"
	"epitome/core/pattern"
	"epitome/core/prove"
	"epitome/core/records"
	"epitome/core/smbios"
	"epitome/core/spd"
)

// Card returns the copy. A serial number that stood in several readings has the
// same stand-in in all of them, so that what belonged together still does; the
// findings about the copy's machine are those about the original's, but for the
// names replaced. leftOut names the readings that are not in it, and why.
func Card(c card.Card) (shared card.Card, leftOut []string) {
	r := redactor{serials: newSerials(), people: make(map[string]string), sources: make(map[string]string),
		entry: entryOf(c)}
	shared = card.Card{Made: c.Made}
	for _, x := range c.Readings {
		r.name(x)
	}
	for _, x := range c.Readings {
		if x.Kind == card.EntryPoint {
			continue // its table is shared as one file, with its version
		}
		again := card.Reading{
			Kind:    x.Kind,
			Source:  r.sources[x.Source],
			How:     known(x.How, ways, "files"),
			Taken:   x.Taken.UTC().Truncate(time.Second),
			Failure: failure(x),
		}
		if address().MatchString(x.Address) {
			again.Address = x.Address
		}
		if len(x.Data) > 0 {
			if why := r.remake(x, &again); why != "" {
				leftOut = append(leftOut, fmt.Sprintf("%s (%s): %s", again.Source, x.Kind, why))
				continue
			}
		}
		if len(again.Data) == 0 && again.Failure == "" {
			leftOut = append(leftOut, fmt.Sprintf("%s (%s): it holds nothing that was understood", again.Source, x.Kind))
			continue
		}
		shared.Readings = append(shared.Readings, again)
	}
	return shared, leftOut
}

// A redactor remembers stand-ins.
type redactor struct {
	serials serials
	people  map[string]string
	sources map[string]string // a reading's source, which may be a path, and its stand-in
	count   map[card.Kind]int
	entry   smbios.EntryPoint
}

func entryOf(c card.Card) (entry smbios.EntryPoint) {
	for _, r := range c.Of(card.EntryPoint) {
		if e, err := smbios.ParseEntryPoint(r.Data); err == nil {
			entry = e
		}
	}
	return entry
}

// ways are how a reading is taken.
var ways = []string{"live", "files", "system copy", "by hand", "worked out", "compared"}

// ownSources are sources that commands write and look for.
var ownSources = []string{"observed", "entered by hand", "propose", "recheck"}

func known(text string, list []string, otherwise string) string {
	if slices.Contains(list, text) {
		return text
	}
	return otherwise
}

// address is where a module's EEPROM answers.
var address = pattern.Of(`^(?:\d{1,3}-00|0x)5[0-7]$`)

// name gives a reading's source a stand-in: the kind and a number, since a path
// or a file's name may hold a person's.
func (r *redactor) name(x card.Reading) {
	if _, done := r.sources[x.Source]; done {
		return
	}
	if slices.Contains(ownSources, x.Source) {
		r.sources[x.Source] = x.Source
		return
	}
	if r.count == nil {
		r.count = make(map[card.Kind]int)
	}
	r.count[x.Kind]++
	r.sources[x.Source] = fmt.Sprintf("%s %d", x.Kind, r.count[x.Kind])
}

// failures are what can keep a reading from being taken or used, in the words
// that are shared for each.
var failures = []struct{ holds, says string }{
	{"ENXIO", "the chip did not answer (ENXIO)"},
	{"may not be read", "may not be read by this user; run again as root (sudo)"},
	{"ee1004 loads", "no eeprom file: the chip driver is not loaded; modprobe ee1004 loads it, as root"},
	{"spd5118 loads", "no eeprom file: the chip driver is not loaded; modprobe spd5118 loads it, as root"},
	{"at24 loads", "no eeprom file: the chip driver is not loaded; modprobe at24 loads it, as root"},
	{"modprobe", "no eeprom file: the chip driver is not loaded"},
	{"is longer than", "is longer than any module's EEPROM"},
}

var withdrawn = pattern.Of(`^withdrawn(?: \d{4}-\d{2}-\d{2})?$`)

func failure(x card.Reading) string {
	switch {
	case x.Failure == "":
		return ""
	case x.Kind == card.Hand && withdrawn().MatchString(x.Failure):
		return x.Failure
	case x.Kind == card.Hand:
		return "withdrawn"
	}
	for _, f := range failures {
		if strings.Contains(x.Failure, f.holds) {
			return f.says
		}
	}
	return "could not be read"
}

// remake makes a reading's bytes anew; why says what stands against it.
func (r *redactor) remake(x card.Reading, again *card.Reading) (why string) {
	var err error
	switch x.Kind {
	case card.Table:
		again.Kind = card.TableFile
		again.Data = smbios.RawFile(smbios.Understood(x.Data, r.entry, r.serials.text), r.entry.Version)
	case card.TableFile:
		var entry smbios.EntryPoint
		var table []byte
		if entry, table, err = smbios.SplitFile(x.Data); err == nil {
			again.Data = smbios.RawFile(smbios.Understood(table, entry, r.serials.text), entry.Version)
		}
	case card.SPD:
		again.Data, err = spd.Understood(x.Data, r.serials.bytes)
	case card.CIM:
		again.Data, err = records.UnderstoodExport(x.Data, r.serials.text)
	case card.Panel:
		p, _ := records.ParsePanel(string(x.Data))
		again.Data = []byte(strings.Join(p.Lines, "\n"))
	case card.CPUInfo:
		again.Data = records.UnderstoodCPUInfo(x.Data)
	case card.MemInfo:
		again.Data = records.UnderstoodMemInfo(x.Data)
	case card.VMStat, card.Pressure:
		again.Data = records.UnderstoodKernelText(x.Data)
	case card.PCI:
		again.Data = records.UnderstoodPCI(x.Data)
	case card.Series:
		var series need.Series
		if series, err = need.ParseSeries(x.Data); err == nil {
			again.Data = series.Encode()
		}
	case card.Hand:
		again.Data, err = r.hand(x.Data)
	case card.Plan:
		again.Data, err = plan(x.Data)
	case card.Outcome:
		again.Data, err = outcome(x.Data)
	case card.Proof:
		again.Data, err = proof(x.Data)
	default:
		return "readings of this kind are not shared"
	}
	if err != nil {
		return "it can't be taken apart"
	}
	return ""
}

// hand takes people, remarks and free words out of a hand entry.
func (r *redactor) hand(data []byte) ([]byte, error) {
	h, err := records.ParseHand(data)
	if err != nil {
		return nil, err
	}
	if h.By != "" {
		if r.people[h.By] == "" {
			r.people[h.By] = fmt.Sprintf("person %d", len(r.people)+1)
		}
		h.By = r.people[h.By]
	}
	h.Remarks = ""
	for _, from := range []*string{&h.Maximum.From, &h.PerSlot.From} {
		if *from != "" {
			*from = known(*from, records.HandSources, "a source that is named on the card")
		}
	}
	for i := range h.Places {
		p := &h.Places[i]
		if p.Holds, err = described(p.Holds); err != nil {
			return nil, err
		}
	}
	h.Distrust = r.distrusted(h.Distrust)
	return h.Encode()
}

// distrusted names the readings again by what they are called now.
func (r *redactor) distrusted(names []string) (out []string) {
	for _, name := range names {
		if address().MatchString(name) {
			out = append(out, name)
		}
		for source, now := range r.sources {
			kind, _, _ := strings.Cut(now, " ")
			if strings.EqualFold(kind, name) {
				out = append(out, kind)
			} else if name != "" && strings.Contains(source, name) {
				out = append(out, now)
			}
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// described writes a stick's text again without the words that say nothing of a
// module. It is the same stick, or an error.
func described(text string) (string, error) {
	if text == "" || records.IsFree(text) {
		return text, nil
	}
	was, err := module.Parse(text)
	if err != nil {
		return "", err
	}
	if len(was.Passed) == 0 {
		return text, nil
	}
	for _, word := range was.Passed {
		text = strings.Replace(text, word, "", 1)
	}
	text = strings.Join(strings.Fields(text), " ")
	now, err := module.Parse(text)
	if err != nil {
		return "", err
	}
	was.From, was.Passed, now.From = "", nil, ""
	if fmt.Sprintf("%+v", was) != fmt.Sprintf("%+v", now) {
		return "", fmt.Errorf("%q can't be told without its other words", text)
	}
	return text, nil
}

// plan keeps what goes where, and leaves out the shop: suppliers, articles,
// prices and lists.
func plan(data []byte) ([]byte, error) {
	p, err := docket.ParsePlan(data)
	if err != nil {
		return nil, err
	}
	out := docket.Plan{Version: p.Version, Goal: harmlessGoal().FindString(p.Goal)}
	for _, w := range p.Ways {
		way := docket.Way{Number: w.Number, Pull: w.Pull}
		for _, x := range w.Put {
			if x.Stick, err = described(x.Stick); err != nil {
				return nil, err
			}
			way.Put = append(way.Put, docket.Put{Place: x.Place, From: x.From, Stick: x.Stick})
		}
		for _, b := range w.Buys {
			if b.Text, err = described(b.Text); err != nil {
				return nil, err
			}
			way.Buys = append(way.Buys, docket.Bought{Units: b.Units, Pieces: b.Pieces, Text: b.Text})
		}
		out.Ways = append(out.Ways, way)
	}
	return out.Encode()
}

var harmlessGoal = pattern.Of(`^reach [\d.]{1,8} [KMGT]B`)

// proof keeps the figures; a date that is none goes, and so does a pattern's name that no
// pattern has.
func proof(data []byte) ([]byte, error) {
	p, err := records.ParseProof(data)
	if err != nil {
		return nil, err
	}
	if _, err := time.Parse(time.DateOnly, p.Date); err != nil {
		p.Date = ""
	}
	for i, f := range p.Faults {
		var names []string
		for _, x := range prove.Patterns {
			names = append(names, x.Name)
		}
		p.Faults[i].Pattern = known(f.Pattern, names, "")
		for _, text := range []*string{&p.Faults[i].Wrote, &p.Faults[i].Read} {
			if !hexWord().MatchString(*text) {
				*text = ""
			}
		}
	}
	return p.Encode()
}

var hexWord = pattern.Of(`^0x[0-9a-fA-F]{1,16}$`)

// results are what a recheck comes to.
var results = []string{"as predicted", "differs", "cannot tell"}

// outcome keeps what was found in which place; what differed is told in words
// that may quote anything.
func outcome(data []byte) ([]byte, error) {
	o, err := records.ParseOutcome(data)
	if err != nil {
		return nil, err
	}
	if _, err := time.Parse(time.DateOnly, o.Date); err != nil {
		o.Date = ""
	}
	o.Result = known(o.Result, results, "cannot tell")
	o.Differs = nil
	return o.Encode()
}

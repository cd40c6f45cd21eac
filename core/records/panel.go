package records

import (
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/pattern"
	"epitome/core/plain"
)

// A Panel is what a system's settings panel says, line by line, as somebody copied
// it. Every figure may be missing.
type Panel struct {
	Installed, Usable, Reserved, Maximum maybe.Value[jedec.Capacity]
	Used, Slots                          maybe.Value[int]
	Speed                                maybe.Value[int] // as the panel writes it: a rate or a clock
	Form                                 maybe.Value[jedec.Form]
	Lines                                []string // what was understood
}

// ErrPanel: a line is none of a settings panel.
var ErrPanel = errors.New("not a line of a settings panel")

// panelLines are the lines that panels show, in English and by their shape in other
// languages: a size with another in brackets, "1 of 2", "2667 MHz".
var panelLines = []struct {
	shape func() *regexp.Regexp
	take  func(p *Panel, m []string) bool
}{
	{pattern.Of(`(?i)^[^:]*(?:max|largest)[^:]*:?\s*([\d.,]+)\s*([KMGT]i?B?)\b(?:.*?\b(\d{1,2})\s*(?:places|slots|` +
		`devices|sockets))?`), func(p *Panel, m []string) bool {
		p.Slots = either(p.Slots, count(m[3]))
		return size(&p.Maximum, m[1], m[2])
	}},
	{pattern.Of(`(?i)^[^:]*reserv[^:]*:\s*([\d.,]+)\s*([KMGT]i?[BO])\b`),
		func(p *Panel, m []string) bool { return size(&p.Reserved, m[1], m[2]) }},
	{pattern.Of(`(?i)^[^:]*(?:number of (?:devices|slots|places))[^:]*:\s*(\d{1,2})\s*$`),
		func(p *Panel, m []string) bool {
			p.Slots = count(m[1])
			return p.Slots.Known()
		}},
	{pattern.Of(`(?i)^(?:[^:]*:)?\s*(\d{1,2})\s*(?:of|/|von|de|sur|di|van|z|av)\s*(\d{1,2})\s*$`),
		func(p *Panel, m []string) bool {
			p.Used, p.Slots = count(m[1]), count(m[2])
			return p.Used.Known() && p.Slots.Known() && p.Used.Or(0) <= p.Slots.Or(0)
		}},
	{pattern.Of(`(?i)^(?:[^:]*:)?\s*(\d{3,5})\s*(?:MHz|MT/s)\s*$`), func(p *Panel, m []string) bool {
		p.Speed = count(m[1])
		return p.Speed.Known()
	}},
	{pattern.Of(`(?i)^(?:form[^:]*|format[^:]*|bauform[^:]*):\s*([\w-]+)\s*$`), func(p *Panel, m []string) bool {
		p.Form = maybe.If(jedec.ParseForm(m[1]))
		return p.Form.Known()
	}},
	// A panel that is copied as a table has a tab behind its titles, which is a blank here.
	{pattern.Of(`(?i)^(?:([^:\d]*)[:\s])?\s*([\d.,]+)\s*([GM]i?[BO])\s*(?:\(\s*([\d.,]+)\s*([GM]i?[BO])?[^)]*\))?\s*$`),
		func(p *Panel, m []string) bool {
			if of := m[1]; of != "" && (!titlesOfMemory().MatchString(of) || titlesOfUse().MatchString(of)) {
				return false
			} else if titlesOfTotals().MatchString(of) {
				return size(&p.Usable, m[2], m[3])
			}
			if m[4] != "" {
				unit := m[5]
				if unit == "" {
					unit = m[3]
				}
				size(&p.Usable, m[4], unit)
			}
			return size(&p.Installed, m[2], m[3])
		}},
}

// Of a panel's sizes that have a title: which are of memory at all, which of those say how much is
// used at the moment, and which how much the system sees, less than what is installed.
var (
	titlesOfMemory = pattern.Of(`(?i)\bram\b|mem|mém|speicher|geheugen|hukommelse|minne|muisti|pamię|память|bellek`)
	titlesOfUse    = pattern.Of(`(?i)avail|free|use|virtual|page|cache|commit|verfügb|frei|virtuell|dispon|libre|verwend`)
	titlesOfTotals = pattern.Of(`(?i)^total physical|^gesamter physi`)
)

func either[T any](a, b maybe.Value[T]) maybe.Value[T] {
	if b.Known() {
		return b
	}
	return a
}

func count(text string) maybe.Value[int] {
	n, err := strconv.Atoi(text)
	return maybe.If(n, err == nil && n > 0)
}

func size(into *maybe.Value[jedec.Capacity], figure, unit string) bool {
	if len(unit) == 1 {
		unit += "B"
	}
	c, err := jedec.ParseCapacity(strings.ReplaceAll(figure, ",", ".") + unit)
	if err != nil || c <= 0 {
		return false
	}
	*into = maybe.Just(c)
	return true
}

// ParsePanel reads lines as they were copied from a panel, one or several. The error
// wraps ErrPanel and quotes the line that is none.
func ParsePanel(text string) (p Panel, err error) {
	for line := range strings.SplitSeq(strings.ReplaceAll(text, "\r", "\n"), "\n") {
		if line = plain.Line(line); line == "" {
			continue
		}
		understood := false
		for _, l := range panelLines {
			if m := l.shape().FindStringSubmatch(line); m != nil && l.take(&p, m) {
				understood = true
				break
			}
		}
		if !understood {
			return p, fmt.Errorf("%w: %q; copy it as it stands, as %q or %q", ErrPanel, plain.Clip(line, 80),
				"Installed memory (RAM): 8.00 GB (7.88 GB usable)", "Slots used: 1 of 2")
		}
		p.Lines = append(p.Lines, line)
	}
	if len(p.Lines) == 0 {
		return p, fmt.Errorf("%w: nothing was copied", ErrPanel)
	}
	return p, nil
}

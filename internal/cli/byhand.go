package cli

import (
	"errors"
	"fmt"
	"io"
	"strings"

	"epitome/core/jedec"
	"epitome/core/module"
	"epitome/core/records"
)

// mostPlaces bounds the questions about places.
const mostPlaces = 32

// ask asks for a hand entry, one question at a time. Enter skips a question.
// The prompts are plain lines, so that they work on any terminal and can be
// answered from a file.
func (a *app) ask() (records.Hand, error) {
	h := records.Hand{Version: 1}
	a.say("One question at a time; Enter skips it. Ctrl-C ends without writing anything.")
	for _, q := range []struct {
		field  *string
		title  string
		accept func(string) error
	}{
		{&h.By, "Your name", nil},
		{&h.Machine.Kind, "Kind of machine (laptop, desktop, all-in-one, mini, server, other)", acceptKind},
		{&h.Machine.Maker, "Maker", nil},
		{&h.Machine.Model, "Model, as on the label underneath", nil},
		{&h.Machine.Board, "Board, as printed on it", nil},
		{&h.Machine.Processor, "Processor, with its number", nil},
		{&h.Machine.System, "Operating system, with 32-bit or 64-bit", nil},
	} {
		if err := a.question(q.title, q.field, q.accept); err != nil {
			return h, err
		}
	}
	for n := 1; n <= mostPlaces; n++ {
		p := records.HandPlace{}
		if err := a.question(fmt.Sprintf("Memory place %d: its name on the board (Enter: no more places)", n), &p.Name, acceptNewName(h.Places)); err != nil {
			return h, err
		}
		if p.Name == "" {
			break
		}
		if err := a.askPlace(&p); err != nil {
			return h, err
		}
		h.Places = append(h.Places, p)
	}
	if err := a.question("Most memory the machine takes, as 32GB", &h.Maximum.Size, acceptSize); err != nil {
		return h, err
	}
	if h.Machine == (records.HandMachine{}) && len(h.Places) == 0 && h.Maximum.Size == "" {
		return h, errors.New("nothing was entered; no card was written")
	}
	if h.Maximum.Size != "" {
		if err := a.question("Where was that read (manual, maker's page)", &h.Maximum.From, nil); err != nil {
			return h, err
		}
	}
	return h, nil
}

func (a *app) askPlace(p *records.HandPlace) error {
	if err := a.question("  "+p.Name+": socket or soldered", &p.Attach, acceptAttach); err != nil {
		return err
	}
	if p.Attach != "soldered" {
		if err := a.question("  "+p.Name+": takes (DIMM, SO-DIMM …)", &p.Takes, acceptForm); err != nil {
			return err
		}
	}
	return a.question("  "+p.Name+": holds (the sticker's text, or free)", &p.Holds, acceptHolds)
}

// longestAnswer bounds what is typed at a question, in bytes.
const longestAnswer = 4 << 10

// question asks until the answer is acceptable or empty. It writes plain lines
// and reads plain lines: the terminal's own line editing serves, a file answers
// as well, and no terminal is ever asked what it can do. The prompt libraries
// ask that, and wait for an answer, at the start of every command.
func (a *app) question(title string, field *string, accept func(string) error) error {
	for {
		fmt.Fprintf(a.err, "%s: ", title)
		line, err := a.answerLine()
		if err != nil {
			return fmt.Errorf("the answer can't be read: %w", err)
		}
		*field = strings.TrimSpace(line)
		if *field == "" || accept == nil {
			return nil
		}
		if err := accept(*field); err != nil {
			a.say("  %v", err)
			continue
		}
		return nil
	}
}

// answerLine reads one line, byte by byte, so that what follows is left for the
// next question. The end of the input is an empty answer.
func (a *app) answerLine() (string, error) {
	var line []byte
	one := make([]byte, 1)
	for len(line) < longestAnswer {
		n, err := a.in.Read(one)
		if n == 1 {
			if one[0] == '\n' {
				break
			}
			line = append(line, one[0])
		}
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return "", err
		}
	}
	return string(line), nil
}

func acceptKind(s string) error {
	_, err := records.ParseHand(fmt.Appendf(nil, "epitome-hand: 1\nmachine: {kind: %q}\n", s))
	if err != nil {
		return errors.New("one of laptop, desktop, all-in-one, mini, server, other")
	}
	return nil
}

func acceptAttach(s string) error {
	if s != "socket" && s != "soldered" {
		return errors.New("socket or soldered")
	}
	return nil
}

func acceptForm(s string) error {
	if _, ok := jedec.ParseForm(s); !ok {
		return errors.New("DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM or CAMM2")
	}
	return nil
}

func acceptHolds(s string) error {
	if records.IsFree(s) {
		return nil
	}
	_, err := module.Parse(s)
	return err
}

func acceptSize(s string) error {
	if !(records.HandLimit{Size: s}).Capacity().Known() {
		return errors.New("a number with MB or GB, as 32GB")
	}
	return nil
}

func acceptNewName(have []records.HandPlace) func(string) error {
	return func(s string) error {
		for _, p := range have {
			if strings.EqualFold(p.Name, s) {
				return errors.New("that place is entered already")
			}
		}
		return nil
	}
}

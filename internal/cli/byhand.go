package cli

import (
	"errors"
	"fmt"
	"io"
	"strings"

	"epitome/core/bench"
)

// mostPlaces bounds the questions about places.
const mostPlaces = 32

// ask asks for a hand entry, one question at a time. Enter skips a question.
// The prompts are plain lines, so that they work on any terminal and can be
// answered from a file.
func (a *app) ask() (bench.Form, error) {
	h := bench.NewForm()
	a.say("One question at a time; Enter skips it. Ctrl-C ends without writing anything.")
	if err := a.question("Your name", &h.By, nil); err != nil {
		return h, err
	}
	for _, q := range bench.NameQuestions() {
		var answer string
		if err := a.question(q.Title, &answer, q.Accept); err != nil {
			return h, err
		}
		bench.Named(&h, q.Word, answer)
	}
	for n := 1; n <= mostPlaces; n++ {
		p := bench.FormPlace{}
		if err := a.question(fmt.Sprintf("Memory place %d: its name on the board (Enter: no more places)", n), &p.Name,
			bench.AcceptNewName(h.Places)); err != nil {
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
	if err := a.question("Most memory the machine takes, as 32GB", &h.Maximum.Size, bench.AcceptSize); err != nil {
		return h, err
	}
	if !bench.Entered(h) {
		return h, errors.New("nothing was entered; no card was written")
	}
	if h.Maximum.Size != "" {
		if err := a.question("Where was that read (manual, maker's page)", &h.Maximum.From, nil); err != nil {
			return h, err
		}
	}
	return h, nil
}

func (a *app) askPlace(p *bench.FormPlace) error {
	ask := func(word string, field *string) error {
		title, accept := bench.PlaceQuestion(word)
		return a.question("  "+p.Name+": "+title, field, accept)
	}
	if err := ask("attach", &p.Attach); err != nil {
		return err
	}
	if p.Attach != "soldered" {
		if err := ask("takes", &p.Takes); err != nil {
			return err
		}
	}
	return ask("holds", &p.Holds)
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

package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"epitome/internal/cli"
)

// The table of messages, docs/errors.md, is made by
//
//	EPITOME_TEST_ERRORS=write go test -count=1 ./cmd/epitome
//
// from what the program says in the sessions: each message once, with its exit code.

// A failed is one run of the program that ended with a message.
type failed struct {
	Code    int
	Command string
	Says    string
}

// recorded is the program as a process, which notes what it said where it failed.
func recorded() { os.Exit(recording(os.Args[1:], os.Stdin, os.Stdout, os.Stderr)) }

// recording runs the program and notes what it said where it failed, if a table of it is made.
func recording(args []string, in io.Reader, out, errs io.Writer) (code int) {
	folder := os.Getenv("EPITOME_TEST_ERRORS")
	if folder == "" {
		return cli.Main(args, in, out, errs)
	}
	var said bytes.Buffer
	code = cli.Main(args, in, out, io.MultiWriter(errs, &said))
	if code != 0 && strings.Contains(said.String(), "epitome: ") {
		f := failed{Code: code, Says: said.String(), Command: "epitome"}
		for _, arg := range args {
			if strings.HasPrefix(arg, "-") || len(strings.Fields(f.Command)) == 3 || !plainWord.MatchString(arg) {
				break
			}
			f.Command += " " + arg
		}
		if text, err := json.Marshal(f); err == nil {
			if file, err := os.CreateTemp(folder, "error"); err == nil {
				_, _ = file.Write(text)
				_ = file.Close()
			}
		}
	}
	return code
}

var plainWord = regexp.MustCompile(`^[a-z]+$`)

// A recorder runs the tests, and makes the table of what was noted.
type recorder struct{ m *testing.M }

func (r recorder) Run() int {
	if os.Getenv("EPITOME_TEST_ERRORS") != "write" {
		return r.m.Run()
	}
	folder, err := os.MkdirTemp("", "errors")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(folder)
	_ = os.Setenv("EPITOME_TEST_ERRORS", folder)
	code := r.m.Run()
	if err := writeErrors(folder, "../../docs/errors.md"); err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	return code
}

// varying are parts of messages that differ from run to run.
var varying = []struct {
	find *regexp.Regexp
	with string
}{
	{regexp.MustCompile(`\S*/script-[^/\s]+/`), ""},
	{regexp.MustCompile(`/tmp/\S+`), "/tmp/…"},
	{regexp.MustCompile(`20\d\d-\d\d-\d\d(T[\d:]+Z)?`), "2026-11-02"},
	{regexp.MustCompile(`\b20\d\d-(\d\d\d)\b`), "2026-$1"},
	{regexp.MustCompile(`127\.0\.0\.1:\d+`), "127.0.0.1:5432"},
}

func writeErrors(folder, to string) error {
	files, err := filepath.Glob(filepath.Join(folder, "error*"))
	if err != nil {
		return err
	}
	rows := make(map[string]string)
	for _, path := range files {
		text, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		var f failed
		if err := json.Unmarshal(text, &f); err != nil {
			return err
		}
		for line := range strings.Lines(f.Says) {
			says, ok := strings.CutPrefix(strings.TrimSpace(line), "epitome: ")
			if !ok {
				continue
			}
			for _, v := range varying {
				says = v.find.ReplaceAllString(says, v.with)
			}
			key := regexp.MustCompile(`"[^"]*"|\d+`).ReplaceAllString(says, "*") // one of a kind
			row := fmt.Sprintf("| %d | `%s` | %s |", f.Code, f.Command, strings.ReplaceAll(says, "|", "\\|"))
			if had, ok := rows[key]; !ok || row < had {
				rows[key] = row
			}
		}
	}
	var list []string
	for _, row := range rows {
		list = append(list, row)
	}
	slices.Sort(list)
	text := "# Messages\n\nWhat the program says where it ends with another exit code than 0, from the sessions under " +
		"`cmd/epitome/testdata/script`.\n" +
		"Codes: 1 failed, 2 wrong usage, 3 the answer is no, 4 the answer is \"cannot tell\". Made anew by\n" +
		"`EPITOME_TEST_ERRORS=write go test -count=1 ./cmd/epitome`.\n\n| code | command | message |\n|---|---|---|\n" +
		strings.Join(list, "\n") + "\n"
	return os.WriteFile(to, []byte(text), 0o644)
}

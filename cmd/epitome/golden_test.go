package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/golden"
	"epitome/internal/cli"
	"epitome/truth/effort"
)

// pages are every page that the program lays out, each with the command that shows it, on
// the demo's workshop. What measures the machine that the test runs on has no page here.
var pages = []struct {
	name string
	args []string
}{
	{"visit", []string{"visit", "harbour/gull-14.card", "--use", "browsing,tabs=40,office", "--stock", list,
		"--no-questions"}},
	{"visit-open", []string{"visit", "harbour/tern-13.card", "--stock", list, "--no-questions"}},
	{"visit-full", []string{"visit", "harbour/skiff-air.card", "--no-questions"}},
	{"brief", []string{"brief", "harbour/bollard-t3.card"}},
	{"brief-ascii", []string{"brief", "harbour/breakwater-x.card", "--ascii"}},
	{"why", []string{"brief", "harbour/tern-13.card", "--why"}},
	{"ceilings", []string{"ceilings", "harbour/breakwater-x.card"}},
	{"ceilings-for", []string{"ceilings", "harbour/gull-14.card", "--for", "64GB"}},
	{"trial", []string{"trial", "harbour/gull-14.card", "8GB 1Rx8 PC4-3200AA-SA2-11"}},
	{"trial-no", []string{"trial", "harbour/gull-14.card", "8GB 1Rx8 PC4-2400T-UA2-11"}},
	{"trial-open", []string{"trial", "harbour/tern-13.card", "8GB 1Rx8 PC4-3200AA-SA2-11"}},
	{"rules", []string{"trial", "--rules"}},
	{"mix", []string{"mix", "16GB 2Rx4 PC4-2400T-RA1-11", "8GB 1Rx8 PC4-2400T-UA2-11", "8GB 1Rx8 PC4-2666V-UA2-11"}},
	{"propose", []string{"propose", "harbour/gull-14.card", "--reach", "16GB", "--stock", list}},
	{"propose-open", []string{"propose", "harbour/tern-13.card", "--reach", "8GB", "--stock", list}},
	{"propose-beyond", []string{"propose", "harbour/gull-14.card", "--reach", "64GB", "--stock", list}},
	{"propose-compare", []string{"propose", "harbour/bollard-t3.card", "--reach", "8GB", "--stock", list, "--compare",
		"1,2"}},
	{"propose-against", []string{"propose", "harbour/bollard-t3.card", "--reach", "8GB", "--stock", list, "--against",
		"2"}},
	{"propose-specified", []string{"propose", "harbour/gull-14.card", "--reach", "16GB"}},
	{"docket", []string{"docket", "harbour/gull-14.card", "--job", "H-118"}},
	{"recheck", []string{"recheck", "harbour/gull-14.card", "harbour/gull-14-after.card", "--dry-run"}},
	{"recheck-differs", []string{"recheck", "harbour/gull-14.card", "harbour/gull-14.card", "--dry-run"}},
	{"need", []string{"need", "harbour/gull-14.card", "--use", "browsing,tabs=40,office"}},
	{"stock", []string{"stock", "check", list}},
	{"module", []string{"module", "8GB 1Rx8 PC4-2400T-SA1-11", "16 GB (2x8) DDR4 3600MHz CL18"}},
	{"module-images", []string{"module", "harbour/collected/gull-14/spd-50.bin",
		"harbour/collected/breakwater-x/spd-50.bin", "--at", "2133"}},
	{"convert", []string{"convert", "800MHz"}},
	{"narrow", []string{"narrow", "--total", "12GB", "--slots", "2", "--form", "SO-DIMM"}},
	{"catalogue-show", []string{"catalogue", "show", "--catalogue", "harbour/catalogue", "--board", "Breakwater X"}},
	{"catalogue-list", []string{"catalogue", "list", "harbour", "--catalogue", "harbour/catalogue"}},
	{"catalogue-check", []string{"catalogue", "check", "harbour/catalogue"}},
	{"rounds", []string{"rounds", "harbour/round", "--stock", list, "--drawer", "harbour/drawer.txt", "--budget", "80"}},
	{"rounds-specified", []string{"rounds", "harbour/round", "--reach", "16GB"}},
	{"jobs", []string{"jobs"}},
	{"jobs-show", []string{"jobs", "show", "NUMBER"}},
	{"jobs-taught", []string{"jobs", "taught"}},
	{"words", []string{"help", "words"}},
	{"collecting", []string{"intake", "--how"}},
	{"help", []string{"--help"}},
}

var clock = regexp.MustCompile(`\b\d\d:\d\d:\d\d\b`)

const list = "harbour/stock/harbour-parts.csv"

// A desk runs the program in a folder of its own, and writes down what it said.
type desk struct{ here string }

func newDesk(t *testing.T) desk {
	d := desk{t.TempDir()}
	t.Chdir(d.here)
	t.Setenv("LANG", "C.UTF-8")
	t.Setenv("LC_ALL", "")
	t.Setenv("XDG_CONFIG_HOME", filepath.Join(t.TempDir(), "config"))
	t.Setenv("XDG_DATA_HOME", filepath.Join(t.TempDir(), "data"))
	return d
}

func (d desk) run(args ...string) string {
	var out, errs bytes.Buffer
	code := cli.Main(args, strings.NewReader(""), &out, &errs)
	text := fmt.Sprintf("$ epitome %s\nexit code %d\n\n%s", strings.Join(args, " "), code, out.String())
	if errs.Len() > 0 {
		text += "\n-- beside it --\n" + errs.String()
	}
	text = clock.ReplaceAllString(strings.ReplaceAll(text, d.here, "…"), "07:00:00")
	for _, v := range varying {
		text = v.find.ReplaceAllString(text, v.with)
	}
	return text
}

// TestPages compares every page with the one that was read and found good.
func TestPages(t *testing.T) {
	read, err := filepath.Abs("testdata/golden")
	require.NoError(t, err)
	run := newDesk(t).run
	run("demo", "-o", "harbour")
	run("recheck", "harbour/gull-14.card", "harbour/gull-14-after.card")
	var opened bytes.Buffer
	cli.Main([]string{"jobs", "open", "harbour/gull-14.card", "harbour/tern-13.card"}, strings.NewReader(""), &opened,
		&opened)
	number := strings.Fields(strings.SplitAfter(opened.String(), "job ")[1])[0]
	for _, p := range pages {
		t.Run(p.name, func(t *testing.T) {
			args := append([]string{}, p.args...)
			for i, arg := range args {
				args[i] = strings.Replace(arg, "NUMBER", number, 1)
			}
			golden.Compare(t, filepath.Join(read, p.name+".txt"), run(args...))
		})
	}
}

// machines are the folders of the machines whose decision by a technician is known.
func machines(t *testing.T) []string {
	folders, err := filepath.Glob("../../testdata/situations/*")
	require.NoError(t, err)
	require.Len(t, folders, 26)
	for i := range folders {
		folders[i], err = filepath.Abs(folders[i])
		require.NoError(t, err)
	}
	return folders
}

// wished is what is wanted of a machine, as flags, and what somebody saw of it.
func wished(t *testing.T, folder string) (wish, seen []string) {
	text, err := os.ReadFile(filepath.Join(folder, "situation.json"))
	require.NoError(t, err)
	var s struct{ Wish struct{ Reach, Spend string } }
	require.NoError(t, json.Unmarshal(text, &s))
	wish = []string{"--reach", s.Wish.Reach}
	if s.Wish.Reach == "" {
		wish = []string{"--spend", s.Wish.Spend}
	}
	if lines, err := os.ReadFile(filepath.Join(folder, "observe.txt")); err == nil {
		seen = strings.FieldsFunc(string(lines), func(r rune) bool { return r == '\n' || r == '\r' })
	}
	return wish, seen
}

// inFull are the machines of which all pages are kept: one of each sort.
var inFull = []string{"02-one-of-two-no-eeprom", "04-two-of-two-odd-total", "16-profile-not-selected",
	"23-ecc-workstation", "28-dead-machine-by-stickers"}

// TestPagesOfMachines compares what is said of the machines whose decision by a technician is known: the visit with its
// list of each, and of some what is in them and why, how far they go, what is proposed, and the slip of the first.
func TestPagesOfMachines(t *testing.T) {
	read, err := filepath.Abs("testdata/golden")
	require.NoError(t, err)
	for _, folder := range machines(t) {
		wish, seen := wished(t, folder)
		name := filepath.Base(folder)
		if testing.Short() && !slices.Contains(inFull, name) {
			continue
		}
		t.Run(name, func(t *testing.T) {
			d := newDesk(t)
			require.NoError(t, os.CopyFS(filepath.Join(d.here, "machine"), os.DirFS(folder)))
			d.run("intake", "--from", "machine", "-o", "m.card")
			if len(seen) > 0 {
				d.run(append([]string{"observe", "m.card"}, seen...)...)
			}
			with := func(args ...string) []string { return slices.Concat(args, wish) }
			const list = "machine/list.csv"
			golden.Compare(t, filepath.Join(read, "visits", name+".txt"),
				d.run(with("visit", "m.card", "--no-questions", "--stock", list)...))
			if !slices.Contains(inFull, name) {
				return
			}
			for page, args := range map[string][]string{"why": {"brief", "m.card", "--why"}, "limits": {"ceilings", "m.card"},
				"propose": with("propose", "m.card", "--stock", list, "--save"), "slip": {"docket", "m.card"}} {
				if page != "slip" {
					golden.Compare(t, filepath.Join(read, name, page+".txt"), d.run(args...))
				}
			}
			golden.Compare(t, filepath.Join(read, name, "slip.txt"), d.run("docket", "m.card"))
		})
	}
}

// seenBesides is what somebody might see or read of a machine. Some of it contradicts what is known.
var seenBesides = []string{"kind=laptop", "kind=desktop", "system=Windows 10 Home 32-bit", "supply=1.35 V",
	"maximum=8GB",
	"maximum=32GB", "per slot=4GB", "rate=1333", "rate=3200", "sockets=1", "sockets=2", "sockets=4", "slots a channel=1",
	"form=SO-DIMM", "form=DIMM", "attach of PLACE=soldered", "attach of PLACE=socket", "holds of PLACE=free",
	"holds of PLACE=8GB 1Rx8 PC4-2400T-SA1-11", "channel of PLACE=B", "distrust=smbios-table", "distrust=spd"}

// place is how a page names the first place of a machine.
var place = regexp.MustCompile(`(?m)^Attach of (.+): `)

// Whatever reading is missing and whatever somebody sees besides, true or not: every page is said, in 80 columns,
// with a documented exit code and without a figure that nobody can mean.
func TestAnyChangeOfTheEvidenceIsAnswered(t *testing.T) {
	effort.NotShort(t)
	for i, folder := range machines(t) {
		if !effort.Full() && i%6 != 0 {
			continue
		}
		wish, seen := wished(t, folder)
		t.Run(filepath.Base(folder), func(t *testing.T) {
			d := newDesk(t)
			try := func(without string, seen []string) (brief string) {
				require.NoError(t, os.RemoveAll("machine"))
				require.NoError(t, os.RemoveAll("m.card"))
				require.NoError(t, os.CopyFS("machine", os.DirFS(folder)))
				if without != "" {
					require.NoError(t, os.Remove(filepath.Join("machine", without)))
				}
				said := d.run("intake", "--from", "machine", "-o", "m.card")
				if len(seen) > 0 {
					said += d.run(append([]string{"observe", "m.card"}, seen...)...)
				}
				brief = d.run("brief", "m.card", "--why")
				said += brief + d.run("ceilings", "m.card") +
					d.run(append([]string{"propose", "m.card", "--stock", "machine/list.csv"}, wish...)...)
				if strings.Contains(said, "no card was written") {
					return brief // nothing was left that tells of memory
				}
				page := true // not what is said beside it
				for line := range strings.Lines(said) {
					line = strings.TrimRight(line, "\n")
					if page = (page || strings.HasPrefix(line, "$ ")) && line != "-- beside it --"; !page {
						continue
					}
					if code, ok := strings.CutPrefix(line, "exit code "); ok {
						assert.Contains(t, []string{"0", "2", "3", "4"}, code, "without %q, with %q", without, seen)
					}
					if !strings.HasPrefix(line, "$ ") {
						assert.LessOrEqual(t, len([]rune(line)), 80, "without %q, with %q: %s", without, seen, line)
					}
					for _, odd := range []string{"%!", "<nil>", "0001-01-01", "NaN", "{", "panic"} {
						assert.NotContains(t, line, odd, "without %q, with %q", without, seen)
					}
				}
				return brief
			}
			first := ""
			if m := place.FindStringSubmatch(try("", seen)); m != nil {
				first = m[1]
			}
			files, err := os.ReadDir(folder)
			require.NoError(t, err)
			for _, f := range files {
				if !slices.Contains([]string{"list.csv", "situation.json", "observe.txt", "smbios_entry_point"}, f.Name()) {
					try(f.Name(), seen)
				}
			}
			for n, fact := range seenBesides {
				if n%4 == i%4 {
					try("", append(slices.Clone(seen), strings.ReplaceAll(fact, "PLACE", first)))
				}
			}
		})
	}
}

// changes are the lines that are new.
func changes(old, now string) string {
	var out strings.Builder
	left := make(map[string]int)
	for line := range strings.SplitSeq(old, "\n") {
		left[line]++
	}
	for line := range strings.SplitSeq(now, "\n") {
		if left[line]--; left[line] < 0 && strings.TrimSpace(line) != "" {
			out.WriteString(line + "\n")
		}
	}
	return out.String()
}

// TestPagesOfWishes compares what every wish does to one page each: of proposals, a visit and a round. The first
// wish's page is there whole, of the others what is new.
func TestPagesOfWishes(t *testing.T) {
	effort.NotShort(t)
	read, err := filepath.Abs("testdata/golden/wishes")
	require.NoError(t, err)
	d := newDesk(t)
	d.run("demo", "-o", "harbour")
	drawer := []string{"--drawer", "8GB 1Rx8 PC4-2400T-SA1-11", "--drawer", "4GB 1Rx8 PC4-2133P-SA0-10"}
	for name, c := range map[string]struct {
		args   []string
		wishes [][]string
	}{
		"propose": {[]string{"propose", "harbour/gull-14.card", "--stock", list}, [][]string{{"--reach", "16GB"},
			{"--reach", "24GB"},
			{"--reach", "32GB"}, {"--reach", "64GB"}, {"--reach", "8GB"}, {"--spend", "10"}, {"--spend", "40"}, {"--spend",
				"60"},
			{"--reach", "16GB", "--spend", "30"}, {"--reach", "16GB", "--all"}, {"--reach", "16GB", "--cheapest"},
			{"--reach", "16GB", "--keep"}, {"--reach", "16GB", "--pairs"}, {"--reach", "16GB", "--one-kit"},
			{"--reach", "16GB", "--only-new"}, {"--reach", "16GB", "--in-stock"}, {"--reach", "16GB", "--discard-at-most", "0"},
			{"--reach", "16GB", "--trade-in", "5"}, append([]string{"--reach", "16GB"}, drawer...), {"--reach", "16GB",
				"--no-stock"},
			{"--reach", "16GB", "--why", "1"}, {"--reach", "16GB", "--why", "2"}, {"--reach", "16GB", "--compare", "1,2,3"},
			{"--reach", "16GB", "--against", "1"}, {"--use", "office,browsing,tabs=80"}}},
		"tower": {[]string{"propose", "harbour/breakwater-x.card", "--stock", list}, [][]string{{"--reach", "32GB"},
			{"--reach", "64GB"},
			{"--reach", "128GB"}, {"--spend", "100"}, {"--reach", "32GB", "--pairs"}, {"--reach", "32GB", "--keep"},
			{"--no-stock", "--reach", "64GB"}, {"--reach", "32GB", "--why", "1"}}},
		"visit": {[]string{"visit", "harbour/bollard-t3.card", "--stock", list, "--no-questions"}, [][]string{{"--reach",
			"8GB"},
			{"--reach", "16GB"}, {"--reach", "64GB"}, {"--spend", "20"}, {"--use", "office"}, {"--use", "video,office," +
				"browsing"},
			append([]string{"--reach", "8GB"}, drawer...)}},
		"visit-open": {[]string{"visit", "harbour/tern-13.card", "--stock", list, "--no-questions"}, [][]string{{"--reach",
			"8GB"},
			{"--reach", "16GB"}, {"--spend", "30"}}},
		"rounds": {[]string{"rounds", "harbour/round", "--stock", list}, [][]string{{}, {"--reach", "8GB"}, {"--reach",
			"16GB"},
			{"--reach", "32GB"}, {"--budget", "0"}, {"--budget", "20"}, {"--budget", "50"}, {"--budget", "80"}, {"--budget",
				"500"},
			{"--reach", "16GB", "--spend", "25"}, {"--reach", "16GB", "--budget", "60"}, {"--keep", "--reach", "16GB"},
			{"--pairs", "--reach", "16GB"}, {"--only-new", "--reach", "16GB"}, {"--in-stock", "--reach", "16GB"},
			{"--cheapest", "--reach", "16GB"}, {"--drawer", "harbour/drawer.txt"}, {"--drawer", "harbour/drawer.txt",
				"--reach", "16GB"},
			{"--drawer", "harbour/drawer.txt", "--reach", "16GB", "--budget", "30"}, {"--no-stock", "--reach", "16GB"},
			{"--use", "office"}}},
	} {
		t.Run(name, func(t *testing.T) {
			var said strings.Builder
			first := ""
			for _, wish := range c.wishes {
				page := d.run(append(slices.Clone(c.args), wish...)...)
				if first == "" {
					first = page
					said.WriteString(page)
					continue
				}
				fmt.Fprintf(&said, "## %s\n%s", strings.Join(wish, " "), changes(first, page))
			}
			golden.Compare(t, filepath.Join(read, name+".txt"), said.String())
		})
	}
}

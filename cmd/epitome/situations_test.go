package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"go.yaml.in/yaml/v3"

	"epitome/internal/cli"
	"epitome/truth/effort"
)

// run runs the program and returns what it says, and its exit code.
func run(args ...string) (out, errOut string, code int) {
	var o, e bytes.Buffer
	code = cli.Main(args, strings.NewReader(""), &o, &e)
	return o.String(), e.String(), code
}

// A purchase is a whole one, by article number.
type purchase map[string]int

func (p purchase) String() string {
	var parts []string
	for sku, n := range p {
		parts = append(parts, fmt.Sprintf("%d %s", n, sku))
	}
	slices.Sort(parts)
	return strings.Join(parts, " and ")
}

// proposed is what propose --format json says, as far as a technician decides by it.
type proposed struct {
	Proposals []struct {
		Verdict   string  `json:"verdict"`
		TotalMiB  int     `json:"total_mib"`
		Cost      float64 `json:"cost"`
		Operating *struct {
			Rate int `json:"rate_mts"`
		} `json:"operating"`
		Removes []struct {
			Place string `json:"place"`
		} `json:"removes"`
		Buys []struct {
			SKU      string `json:"sku"`
			Quantity int    `json:"quantity"`
		} `json:"buys"`
	} `json:"proposals"`
	Blocked string `json:"blocked"`
}

func (p proposed) buys() purchase {
	out := purchase{}
	if len(p.Proposals) > 0 {
		for _, b := range p.Proposals[0].Buys {
			out[b.SKU] += b.Quantity
		}
	}
	return out
}

func (p proposed) removes() []string {
	out := []string{}
	if len(p.Proposals) > 0 {
		for _, r := range p.Proposals[0].Removes {
			out = append(out, r.Place)
		}
	}
	slices.Sort(out)
	return out
}

// Machines with a technician's decision: the first proposal is the same purchase, takes
// out the same, and comes to the same total and rate, said as firmly.
func TestATechnicianDecidesTheSame(t *testing.T) {
	effort.NotShort(t)
	t.Setenv("HOME", t.TempDir())
	t.Setenv("XDG_CONFIG_HOME", t.TempDir())
	t.Setenv("XDG_DATA_HOME", t.TempDir())
	folders, err := filepath.Glob("../../testdata/situations/*")
	require.NoError(t, err)
	require.Len(t, folders, 26)
	for _, folder := range folders {
		t.Run(filepath.Base(folder), func(t *testing.T) {
			text, err := os.ReadFile(filepath.Join(folder, "situation.json"))
			require.NoError(t, err)
			type bought = []struct {
				SKU   string `json:"sku"`
				Units int    `json:"units"`
			}
			var s struct {
				Wish     struct{ Reach, Spend string }
				Decision struct {
					Verdict  string   `json:"verdict"`
					TotalGB  int      `json:"total_gb"`
					Rate     *int     `json:"rate_mts"`
					Removes  []string `json:"removes"`
					Buys     bought   `json:"buys"`
					AlsoFine []bought `json:"also_fine"`
				} `json:"decision"`
			}
			require.NoError(t, json.Unmarshal(text, &s))
			card := filepath.Join(t.TempDir(), "m.card")
			_, says, code := run("intake", "--from", folder, "-o", card)
			require.Zero(t, code, says)
			if seen, err := os.ReadFile(filepath.Join(folder, "observe.txt")); err == nil {
				args := []string{"observe", card}
				for line := range strings.Lines(string(seen)) {
					if line = strings.TrimSpace(line); line != "" {
						args = append(args, line)
					}
				}
				_, says, code := run(args...)
				require.Zero(t, code, says)
			}
			wish := []string{"--reach", s.Wish.Reach}
			if s.Wish.Spend != "" {
				wish = []string{"--spend", s.Wish.Spend}
			}
			out, _, code := run(append([]string{"propose", card, "--stock", filepath.Join(folder, "list.csv"), "--format",
				"json"}, wish...)...)
			var got proposed
			if err := json.Unmarshal([]byte(out), &got); err != nil {
				got = proposed{}
			}
			d := s.Decision
			if d.Verdict == "refused" {
				assert.Equal(t, 3, code)
				assert.Empty(t, got.Proposals)
				return
			}
			assert.Zero(t, code)
			fine := []string{}
			for _, list := range append([]bought{d.Buys}, d.AlsoFine...) {
				p := purchase{}
				for _, b := range list {
					p[b.SKU] += b.Units
				}
				fine = append(fine, p.String())
			}
			assert.Contains(t, fine, got.buys().String())
			assert.Contains(t, fine, alone(t, card, folder, wish).String(), "a round of this machine alone")
			if len(d.Buys) == 0 {
				return
			}
			require.NotEmpty(t, got.Proposals, got.Blocked)
			first := got.Proposals[0]
			slices.Sort(d.Removes)
			assert.Equal(t, d.Removes, got.removes())
			assert.Equal(t, d.TotalGB<<10, first.TotalMiB)
			if d.Rate != nil && assert.NotNil(t, first.Operating) {
				assert.Equal(t, *d.Rate, first.Operating.Rate)
			}
			assert.Equal(t, strings.Replace(d.Verdict, "reduced", "works", 1),
				strings.Replace(first.Verdict, "reduced", "works", 1))
		})
	}
}

// alone is what a round of one machine buys.
func alone(t *testing.T, card, folder string, wish []string) purchase {
	t.Helper()
	out, says, _ := run(append([]string{"rounds", card, "--stock", filepath.Join(folder, "list.csv"), "--format", "json"},
		wish...)...)
	var round struct {
		Exact    bool `json:"exact"`
		Machines []struct {
			State string `json:"state"`
			First *struct {
				TotalMiB int `json:"total_mib"`
			} `json:"first"`
		} `json:"machines"`
		Buying []struct {
			SKU      string `json:"sku"`
			Quantity int    `json:"quantity"`
		} `json:"buying"`
	}
	require.NoError(t, json.Unmarshal([]byte(out), &round), says)
	assert.True(t, round.Exact)
	require.Len(t, round.Machines, 1)
	assert.Equal(t, round.Machines[0].State == "gets", round.Machines[0].First != nil)
	p := purchase{}
	for _, b := range round.Buying {
		p[b.SKU] += b.Quantity
	}
	return p
}

// A decision is one row of the workshop's own table: a machine as it was written down, a
// wish, a list, and what a technician does.
type decision struct {
	Name    string   `yaml:"name"`
	Machine string   `yaml:"machine"` // kind; processor; system; maximum
	Places  []string `yaml:"places"`  // "A1 A: sticker", "B1 B: free", "On A: soldered 4GB DDR4"
	Sockets int      `yaml:"sockets"` // counted
	Wish    string   `yaml:"wish"`    // "reach 16GB", "spend 60"
	List    []string `yaml:"list"`    // "A 21.00 8GB 1Rx8 PC4-2400T-SA1-11"
	// "works: 1 A, 16 GB at 2400" or "works: 1 A, 16 GB at 2400, out A1" or "refused" or "nothing"
	Does string `yaml:"does"`
}

// hand writes the machine as a form that was filled in.
func (d decision) hand() string {
	var b strings.Builder
	part := strings.Split(d.Machine, "; ")
	fmt.Fprintf(&b, "epitome-hand: 1\nmachine:\n  kind: %s\n  processor: %q\n  system: %q\n", part[0], part[1], part[2])
	b.WriteString("places:\n")
	takes := map[string]string{"laptop": "SO-DIMM", "all-in-one": "SO-DIMM", "mini": "SO-DIMM"}[part[0]]
	if takes == "" {
		takes = "DIMM"
	}
	for _, text := range d.Places {
		where, holds, _ := strings.Cut(text, ": ")
		name, channel, _ := strings.Cut(where, " ")
		if stick, soldered := strings.CutPrefix(holds, "soldered "); soldered {
			fmt.Fprintf(&b, "  - {name: %q, channel: %q, attach: soldered, holds: %q}\n", name, channel, stick)
			continue
		}
		fmt.Fprintf(&b, "  - {name: %q, channel: %q, attach: socket, takes: %s, holds: %q}\n", name, channel, takes, holds)
	}
	if d.Sockets > 0 {
		fmt.Fprintf(&b, "sockets: %d\n", d.Sockets)
	}
	if len(part) > 3 && part[3] != "" {
		fmt.Fprintf(&b, "maximum: {size: %s, from: manual}\n", part[3])
	}
	return b.String()
}

func TestTheWorkshopsOwnDecisions(t *testing.T) {
	effort.NotShort(t)
	t.Setenv("HOME", t.TempDir())
	t.Setenv("XDG_CONFIG_HOME", t.TempDir())
	t.Setenv("XDG_DATA_HOME", t.TempDir())
	text, err := os.ReadFile("testdata/decisions.yaml")
	require.NoError(t, err)
	var rows []decision
	require.NoError(t, yaml.Unmarshal(text, &rows))
	require.GreaterOrEqual(t, len(rows)+26, 60)
	for _, d := range rows {
		t.Run(d.Name, func(t *testing.T) {
			folder := t.TempDir()
			card, form, list := filepath.Join(folder, "m.card"), filepath.Join(folder, "form.yaml"), filepath.Join(folder,
				"list.csv")
			require.NoError(t, os.WriteFile(form, []byte(d.hand()), 0o644))
			lines := "sku;price;currency;description\n"
			for _, line := range d.List {
				sku, rest, _ := strings.Cut(line, " ")
				price, what, _ := strings.Cut(rest, " ")
				lines += fmt.Sprintf("%s;%s;EUR;%s\n", sku, price, what)
			}
			require.NoError(t, os.WriteFile(list, []byte(lines), 0o644))
			_, says, code := run("intake", "--hand", form, "-o", card)
			require.Zero(t, code, says)
			kind, amount, _ := strings.Cut(d.Wish, " ")
			out, says, code := run("propose", card, "--"+kind, amount, "--stock", list, "--format", "json")
			var got proposed
			if err := json.Unmarshal([]byte(out), &got); err != nil {
				got = proposed{Blocked: says}
			}
			does := "refused"
			switch {
			case len(got.Proposals) > 0:
				first := got.Proposals[0]
				// A penalty that is named, such as memory over one channel alone, is no doubt.
				does = fmt.Sprintf("%s: %v, %d GB", strings.Replace(first.Verdict, "reduced", "works", 1), got.buys(),
					first.TotalMiB>>10)
				if first.Operating != nil {
					does += fmt.Sprintf(" at %d", first.Operating.Rate)
				}
				if outs := got.removes(); len(outs) > 0 {
					does += ", out " + strings.Join(outs, " ")
				}
			case code == 0:
				does = "nothing"
			case code == 4:
				does = "cannot tell: " + got.Blocked
			}
			assert.Equal(t, d.Does, does, got.Blocked)
		})
	}
}

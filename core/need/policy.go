// Package need works out how much memory a user needs, from the system, the
// kinds of use and the pressure measured while the user worked, and whether
// memory is what the machine lacks at all.
package need

import (
	"bytes"
	_ "embed"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"go.yaml.in/yaml/v3"

	"epitome/core/jedec"
	"epitome/core/plain"
)

// A Policy is a workshop's rules of thumb, as its file states them.
type Policy struct {
	Version  int          `yaml:"epitome-policy"`
	Headroom int          `yaml:"headroom_percent"`
	TotalsMB []int        `yaml:"totals_mb"`
	Systems  []SystemRule `yaml:"systems"`
	Uses     []UseRule    `yaml:"uses"`
	Pressure Thresholds   `yaml:"pressure"`
}

// A SystemRule is what a system takes by itself.
type SystemRule struct {
	Name string `yaml:"name"`
	MB   int    `yaml:"mb"`
	Why  string `yaml:"why"`
}

// A UseRule is what one kind of use takes.
type UseRule struct {
	Name    string `yaml:"name"`
	FirstMB int    `yaml:"first_mb"`
	EachMB  int    `yaml:"each_mb"`
	Counts  string `yaml:"counts"` // what a count of it counts
	Why     string `yaml:"why"`
}

// Thresholds say when a measured series counts as a shortage.
type Thresholds struct {
	StallPercent      float64 `yaml:"stall_percent"`
	StallBurstPercent float64 `yaml:"stall_burst_percent"`
	BurstSharePercent float64 `yaml:"burst_share_percent"`
	SwapInPages       float64 `yaml:"swapin_pages_per_second"`
	SwapInShare       float64 `yaml:"swapin_share_percent"`
	TightAvailable    float64 `yaml:"tight_available_percent"`
	ShortAvailable    float64 `yaml:"short_available_percent"`
	Elsewhere         float64 `yaml:"elsewhere_percent"`
}

//go:embed policy.yaml
var builtIn []byte

// BuiltIn returns the policy that comes with the program.
func BuiltIn() Policy {
	p, err := ParsePolicy(builtIn)
	if err != nil {
		panic("need: built-in policy: " + err.Error()) // a test reads it
	}
	return p
}

// BuiltInText returns the file itself, for a workshop to copy.
func BuiltInText() []byte { return bytes.Clone(builtIn) }

// ErrPolicy is what every error of ParsePolicy wraps.
var ErrPolicy = errors.New("sizing policy not usable")

// ParsePolicy reads a policy file and checks every figure. Errors wrap
// ErrPolicy and name line or entry.
func ParsePolicy(text []byte) (Policy, error) {
	var p Policy
	d := yaml.NewDecoder(bytes.NewReader(text))
	d.KnownFields(true)
	if err := d.Decode(&p); err != nil {
		return p, fmt.Errorf("%w: %s", ErrPolicy, plain.Decoding(err))
	}
	wrong := func(format string, args ...any) (Policy, error) {
		return p, fmt.Errorf("%w: %s", ErrPolicy, fmt.Sprintf(format, args...))
	}
	switch {
	case p.Version != 1:
		return wrong("epitome-policy: %d; this program reads 1", p.Version)
	case p.Headroom < 0 || p.Headroom > 200:
		return wrong("headroom_percent: %d; allowed are 0 to 200", p.Headroom)
	case len(p.TotalsMB) == 0 || !slices.IsSorted(p.TotalsMB) || p.TotalsMB[0] <= 0:
		return wrong("totals_mb: one or more sizes in MB, smallest first")
	case len(p.Systems) == 0 || p.Systems[len(p.Systems)-1].Name != "":
		return wrong("systems: the last entry has the name \"\" and stands for a system that is not known")
	}
	const most = 1 << 20 // 1 TB in MB
	for _, s := range p.Systems {
		if s.MB <= 0 || s.MB > most || s.Why == "" {
			return wrong("systems: %q: mb is 1 to %d, and why is not empty", s.Name, most)
		}
	}
	seen := make(map[string]bool)
	for _, u := range p.Uses {
		if u.Name == "" || strings.ContainsAny(u.Name, "=, ") || seen[u.Name] || u.FirstMB <= 0 || u.FirstMB > most ||
			u.EachMB < 0 || u.EachMB > most || u.Why == "" {
			return wrong("uses: %q: a name of its own without blanks, first_mb 1 to %d, each_mb 0 to %d, and why", u.Name,
				most, most)
		}
		seen[u.Name] = true
	}
	t := p.Pressure
	for name, v := range map[string]float64{"stall_percent": t.StallPercent, "stall_burst_percent": t.StallBurstPercent,
		"burst_share_percent":  t.BurstSharePercent,
		"swapin_share_percent": t.SwapInShare, "tight_available_percent": t.TightAvailable,
		"short_available_percent": t.ShortAvailable, "elsewhere_percent": t.Elsewhere} {
		if !(v > 0 && v <= 100) {
			return wrong("pressure: %s: %g; allowed is more than 0 and up to 100", name, v)
		}
	}
	if !(t.SwapInPages > 0) {
		return wrong("pressure: swapin_pages_per_second: %g; more than 0", t.SwapInPages)
	}
	return p, nil
}

// A Use is one kind of use with its count.
type Use struct {
	Rule  UseRule
	Count int
}

// ParseUses reads "browsing,tabs=40,vm=2". An unknown name lists those that
// the policy has.
func (p Policy) ParseUses(s string) ([]Use, error) {
	var uses []Use
	for part := range strings.SplitSeq(s, ",") {
		part = strings.ToLower(strings.TrimSpace(part))
		if part == "" {
			continue
		}
		name, figure, counted := strings.Cut(part, "=")
		name = strings.TrimSpace(name)
		i := slices.IndexFunc(p.Uses, func(u UseRule) bool { return u.Name == name })
		if i < 0 {
			var names []string
			for _, u := range p.Uses {
				names = append(names, u.Name)
			}
			return nil, fmt.Errorf("there is no use %q; there are %s", name, strings.Join(names, ", "))
		}
		count := 1
		if counted {
			var err error
			if count, err = strconv.Atoi(strings.TrimSpace(figure)); err != nil || count < 1 || count > 1000 {
				return nil, fmt.Errorf("%s=%s: a count of %s is 1 to 1000", name, figure, p.Uses[i].Counts)
			}
		}
		if slices.ContainsFunc(uses, func(u Use) bool { return u.Rule.Name == name }) {
			return nil, fmt.Errorf("%s is given twice; write %s=COUNT", name, name)
		}
		uses = append(uses, Use{Rule: p.Uses[i], Count: count})
	}
	return uses, nil
}

// Size returns what the use takes.
func (u Use) Size() jedec.Capacity {
	return jedec.Capacity(u.Rule.FirstMB+u.Rule.EachMB*(u.Count-1)) * jedec.MiB
}

// round returns the smallest total of the policy that holds c, or the largest.
func (p Policy) round(c jedec.Capacity) jedec.Capacity {
	for _, mb := range p.TotalsMB {
		if total := jedec.Capacity(mb) * jedec.MiB; total >= c {
			return total
		}
	}
	return jedec.Capacity(p.TotalsMB[len(p.TotalsMB)-1]) * jedec.MiB
}

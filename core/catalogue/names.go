package catalogue

import (
	"slices"
	"strings"

	"epitome/core/naming"
	"epitome/core/pattern"
)

// One thing has many names: with trade marks or without, with a clock, graphics or "Express Chipset" behind, in other
// letters and with other blanks. What compares names compares what is left of them.

// beside are the words around a processor's name that do not name it: its clock, its graphics, how many cores it has.
var beside = pattern.Of(`(?i)\s+@.*$|\s+(?:with|w/)\s.*$|\s+apu\b.*$|\s+\d+(?:\.\d+)?\s*[gm]hz\b.*$|` +
	`\bcpu\b|\bprocessors?\b|` +
	`\b(?:dual|triple|quad|six|eight|twelve|sixteen|\d+)-core\b|\bgenuine\b`)

// bareProcessor is a processor's name without what does not name it.
func bareProcessor(name string) string {
	return strings.Join(strings.Fields(beside().ReplaceAllString(naming.Bare(name), " ")), " ")
}

// SameProcessor reports whether two names may be of one processor: one of them says all that the other says, the
// number among it where both have one.
func SameProcessor(a, b string) bool {
	return naming.Same(bareProcessor(a), bareProcessor(b))
}

// SameChipset is naming.Same for chipsets, whose series is called "Express" and which stand on the side that they have.
func SameChipset(a, b string) bool {
	return naming.Same(bareChipset(a), bareChipset(b))
}

// chipsetWords are the words of a chipset's name that are no part of it.
var chipsetWords = pattern.Of(`(?i)\b(?:express|chipset|family|mobile)\b`)

func bareChipset(name string) string {
	return strings.Join(strings.Fields(chipsetWords().ReplaceAllString(naming.Bare(name), " ")), " ")
}

// signed are the words of processors' names that carry a trade mark where the processor itself gives its name.
var signed = map[string]string{"intel": "Intel(R)", "pentium": "Pentium(R)", "celeron": "Celeron(R)",
	"xeon": "Xeon(R)", "core": "Core(TM)", "core2": "Core(TM)2", "atom": "Atom(TM)", "athlon": "Athlon(tm)",
	"phenom": "Phenom(tm)", "sempron": "Sempron(tm)", "turion": "Turion(tm)", "opteron": "Opteron(tm)", "fx": "FX(tm)"}

// brandsOf are the brand strings that a name may stand for: the name itself where it is as processors give theirs, then
// with the marks that they carry, then as a person writes it. Tables tell the parts of a family apart by whole strings.
func brandsOf(name string) (brands []string) {
	name = strings.Join(strings.Fields(name), " ")
	add := func(more ...string) {
		for _, b := range more {
			if !slices.Contains(brands, b) {
				brands = append(brands, b)
			}
		}
	}
	ascii := strings.NewReplacer("®", "(R)", "™", "(TM)").Replace(name)
	if strings.Contains(ascii, "(") {
		add(ascii)
	}
	bare := bareProcessor(name)
	add(titled(marked(strings.Fields(naming.Bare(name)))))
	add(withMarks(bare)...)
	add(asReported(bare)...)
	add(name)
	return brands
}

// withMarks writes a bare name as processors give theirs: with trade marks, and with "CPU" wherever it may stand.
func withMarks(bare string) (brands []string) {
	words := strings.Fields(bare)
	if len(words) == 0 {
		return nil
	}
	plain := words
	words = strings.Fields(marked(words))
	maker := Processor{Brand: strings.Join(words, " ")}.maker()
	if maker == "" {
		return nil
	}
	if maker == "amd" {
		for _, w := range [][]string{words, plain} {
			text := strings.Join(w, " ")
			for _, behind := range []string{"", " Processor", " APU with Radeon(TM) HD Graphics", " with Radeon Graphics",
				" Six-Core Processor"} {
				brands = append(brands, titled(text+behind))
			}
		}
		return brands
	}
	if !strings.HasPrefix(words[0], "Intel") {
		words = append([]string{"Intel(R)"}, words...)
	}
	for at := len(words); at > 0; at-- { // at the end, then before each word
		text := strings.Join(slices.Insert(slices.Clone(words), at, "CPU"), " ")
		brands = append(brands, titled(text+" @"))
	}
	return append(brands, titled(strings.Join(words, " ")+" @"))
}

// marked writes words with the trade marks that they carry.
func marked(words []string) string {
	words = slices.Clone(words)
	for i, w := range words {
		if mark, ok := signed[strings.ToLower(w)]; ok {
			words[i] = mark
		}
	}
	return strings.Join(words, " ")
}

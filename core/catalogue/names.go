package catalogue

import (
	"slices"
	"strings"
	"unicode"

	"epitome/core/pattern"
)

// One thing has many names: with trade marks or without, with a clock, graphics or "Express Chipset" behind, in other
// letters and with other blanks. What compares names compares what is left of them.

// marks are the signs of trade marks, as people, systems and processors write them.
var marks = pattern.Of(`(?i)\((?:r|tm|c)\)|[®™©]`)

// beside are the words around a processor's name that do not name it: its clock, its graphics, how many cores it has.
var beside = pattern.Of(`(?i)\s+@.*$|\s+(?:with|w/)\s.*$|\s+apu\b.*$|\s+\d+(?:\.\d+)?\s*[gm]hz\b.*$|` +
	`\bcpu\b|\bprocessors?\b|` +
	`\b(?:dual|triple|quad|six|eight|twelve|sixteen|\d+)-core\b|\bgenuine\b`)

// Bare returns a name without trade marks, in single blanks.
func Bare(name string) string {
	return strings.Join(strings.Fields(marks().ReplaceAllString(name, " ")), " ")
}

// bareProcessor is a processor's name without what does not name it.
func bareProcessor(name string) string {
	return strings.Join(strings.Fields(beside().ReplaceAllString(Bare(name), " ")), " ")
}

// SameProcessor reports whether two names may be of one processor: one of them says all that the other says, the
// number among it where both have one.
func SameProcessor(a, b string) bool {
	return within(pieces(bareProcessor(a)), pieces(bareProcessor(b)))
}

// SameName reports whether two names of a board, a machine, a chipset or a system may be of one thing, one of them
// told more fully.
func SameName(a, b string) bool { return within(pieces(Bare(a)), pieces(Bare(b))) }

// SameChipset is SameName for chipsets, whose series is called "Express" and which stand on the side that they have.
func SameChipset(a, b string) bool {
	return within(pieces(bareChipset(a)), pieces(bareChipset(b)))
}

// Fuller reports whether a name says more than another one.
func Fuller(a, b string) bool { return len(pieces(a)) > len(pieces(b)) }

// within reports whether all of the fewer pieces are among the more.
func within(a, b []string) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	if len(a) == 0 {
		return false
	}
	left := slices.Clone(b)
	for _, p := range a {
		at := slices.Index(left, p)
		if at < 0 {
			return false
		}
		left = slices.Delete(left, at, at+1)
	}
	return true
}

// pieces are the runs of letters and of digits of a name, in small letters: "i5-480M" and "i5 M 480" have the same.
func pieces(name string) (list []string) {
	kind := func(r rune) int {
		switch {
		case unicode.IsDigit(r):
			return 1
		case unicode.IsLetter(r):
			return 2
		}
		return 0
	}
	var run []rune
	last := 0
	flush := func() {
		if last != 0 {
			list = append(list, strings.ToLower(string(run)))
		}
		run = run[:0]
	}
	for _, r := range name {
		if k := kind(r); k != last {
			flush()
			last = k
		}
		run = append(run, r)
	}
	flush()
	return list
}

// chipsetWords are the words of a chipset's name that are no part of it.
var chipsetWords = pattern.Of(`(?i)\b(?:express|chipset|family|mobile)\b`)

func bareChipset(name string) string {
	return strings.Join(strings.Fields(chipsetWords().ReplaceAllString(Bare(name), " ")), " ")
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
	add(titled(marked(strings.Fields(Bare(name)))))
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
	maker := makerWord(words)
	if maker == "" {
		return nil
	}
	plain := words
	words = strings.Fields(marked(words))
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

// makerWord is the maker of a processor by the words of its name.
func makerWord(words []string) string {
	text := strings.Join(words, " ")
	if maker := makerOf(text); maker != "" {
		return maker
	}
	for _, w := range words {
		switch mark := signed[strings.ToLower(w)]; {
		case strings.HasSuffix(mark, "(tm)"):
			return "amd"
		case mark != "":
			return "intel"
		}
	}
	return ""
}

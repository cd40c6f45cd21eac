package module

import (
	"regexp"
	"slices"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"epitome/core/pattern"

	"golang.org/x/text/unicode/norm"
)

// A rewriting brings one way of writing to that which the grammar knows.
type rewriting struct {
	from *regexp.Regexp
	to   string
	may  func(lower string) bool // cheap, and true wherever the expression changes anything
}

// rewritings are tried in their order, whatever the case of letters. An expression costs
// a thousand times what its sign does, and few lines need any: each is tried only where
// its sign is there.
var rewritings = sync.OnceValue(func() (list []rewriting) {
	for _, x := range []struct {
		from, to string
		may      func(lower string) bool
	}{
		{`\bs[._]o[._]?dimm|\bso[._]dimm`, "SO-DIMM", has(".dimm", "_dimm", "s.o", "s_o")},
		{`_`, " ", has("_")}, // before all that asks where a word ends
		{`\b(lp)?ddr[ -]([2-5])(l|u|x)?\b`, "${1}ddr$2$3", has("ddr ", "ddr-")},
		{`\bdrr([2-5])`, "ddr$1", has("drr")},
		{`\bsdram-(\d)`, "SDRAM $1", has("sdram-")},
		{`\bd([2-5])\b([^x])`, "ddr$1$2", loneGeneration},
		{`\b(\d{1,2})\s*\+\s*(\d{1,2})\s*(gb|go|g)\b`, "$1+$2$3", has("+")}, // see plusSizes
		{`\b(\d{1,2})\s*(?:gb|go|g)\s*\+\s*(\d{1,2})\s*(gb|go|g)\b`, "$1+$2$3", has("+")},
		{`(^|\D)(\d{1,3})\s*[×хX*✕]\s*(\d)`, "${1}${2}x$3", times},
		{`(gb|mb|go|mo|g)\s*[×х*✕]\s*(\d)`, "${1}x$2", foreignTimes},
		{`(\d)\s*[×х*✕]`, "${1}x", foreignTimes},
		{`(\d{3})o\b`, "${1}0", before("o", isDigit)},
		{`(r)\s*[×х]\s*(\d)`, "${1}x$2", foreignTimes},
		{`\b(pc[2-5]?[lu]?)\s+-?\s*(\d{4,5}[a-z]{0,2})\b`, "$1-$2", spacedRating},
		{`\b(pc[2-5]?[lu]?)\s*-\s*(\d{4,5}[a-z]{0,2})\b`, "$1-$2", spacedDash},
		{`\b(pc[2-5]?[lu]?-\d{4,5}[a-z]{1,2})\s*-\s*([a-z]{2}\d)\s*-\s*(\d{2,4})\b`, "$1-$2-$3", spacedDash},
		{`\b(pc[2-5]?[lu]?-\d{4,5}[a-z])\s+(\d{1,2}-\d{1,2}-[a-z]\d)\b`, "$1-$2", spacedChain},
		{`\b(\d{1,3})[.,](\d{3})\s*mb\b`, "$1$2 mb", has("mb")},
		{`(\d(?:gb|gib|mb|go|mo))-?(ddr\d|lpddr\d|\dr ?x?\d|\d{3,5}\b|so-?dimm|[ur]?-?dimm)`, "$1 $2", gluedSize},
		{`(ddr\d[lux]?|\d{4})-(\d+(?:gb|go|mb)|so-?dimm|[ur]?-?dimm)`, "$1 $2", gluedRate},
		{`-(ram|kit|module?|speicher|minne|geheugen|memory|arbeitsspeicher|pamięć|памяти|память|riegel|stick)([^\pL]|$)`,
			" $1$2", gluedNoun}, // \b would know ASCII letters alone
		{`\b(so-?dimm|dimm)-(\d{3})\b`, "$1 $2-pin", has("dimm-")},
		{`\b(ssd|hdd)(\d)`, "$1 $2", has("ssd", "hdd")},
	} {
		list = append(list, rewriting{regexp.MustCompile("(?i)" + x.from), x.to, x.may})
	}
	return list
})

// The signs. They read text in lower case; where they are in doubt they say yes.

func has(parts ...string) func(string) bool {
	return func(lower string) bool {
		for _, p := range parts {
			if strings.Contains(lower, p) {
				return true
			}
		}
		return false
	}
}

// before finds a part with such a byte right before it.
func before(part string, is func(byte) bool) func(string) bool {
	return func(lower string) bool {
		return everyAt(lower, part, func(at int) bool { return at > 0 && is(lower[at-1]) })
	}
}

// everyAt reports whether ok holds for any place at which a part stands.
func everyAt(text, part string, ok func(at int) bool) bool {
	for at := 0; ; at++ {
		next := strings.Index(text[at:], part)
		if next < 0 {
			return false
		}
		if at += next; ok(at) {
			return true
		}
	}
}

func isDigit(b byte) bool { return b >= '0' && b <= '9' }
func isSpace(b byte) bool { return b == ' ' || b >= '\t' && b <= '\r' }

func byteAt(text string, at int) byte {
	if at < 0 || at >= len(text) {
		return 0
	}
	return text[at]
}

func loneGeneration(lower string) bool {
	return everyAt(lower, "d", func(at int) bool {
		next := byteAt(lower, at+1)
		return next >= '2' && next <= '5' && (at == 0 || !isWordByte(lower[at-1]))
	})
}

func isWordByte(b byte) bool { return isDigit(b) || b >= 'a' && b <= 'z' }

// foreignTimes is a sign of multiplication other than the Latin letter; a Cyrillic one is
// met in words, too.
var foreignTimes = has("×", "х", "*", "✕")

func times(lower string) bool {
	return foreignTimes(lower) || everyAt(lower, "x", func(at int) bool {
		left, right := byteAt(lower, at-1), byteAt(lower, at+1)
		return (isDigit(left) || isSpace(left)) && (isDigit(right) || isSpace(right))
	})
}

func spacedDash(lower string) bool {
	return everyAt(lower, "-", func(at int) bool { return isSpace(byteAt(lower, at-1)) || isSpace(byteAt(lower, at+1)) })
}

// spacedChain is "11-12-e3" behind a space.
func spacedChain(lower string) bool {
	return everyAt(lower, "-", func(at int) bool {
		return isDigit(byteAt(lower, at-1)) && isDigit(byteAt(lower, at+1)) &&
			(isSpace(byteAt(lower, at-2)) || isDigit(byteAt(lower, at-2)) && isSpace(byteAt(lower, at-3)))
	})
}

// gluedSize is a size with a word or a figure at its end.
func gluedSize(lower string) bool {
	for at := 1; at+2 < len(lower); at++ {
		if c := lower[at]; c != 'g' && c != 'm' || !isDigit(lower[at-1]) {
			continue
		}
		for _, unit := range []string{"gb", "gib", "mb", "go", "mo"} {
			next := byteAt(lower, at+len(unit))
			if next != 0 && strings.HasPrefix(lower[at:], unit) && (isDigit(next) || strings.IndexByte("-dlsur", next) >= 0) {
				return true
			}
		}
	}
	return false
}

// spacedRating is "pc4 " with a figure behind it, or a hyphen.
func spacedRating(lower string) bool {
	return everyAt(lower, "pc", func(at int) bool {
		at += len("pc")
		if c := byteAt(lower, at); c >= '2' && c <= '5' {
			at++
		}
		if c := byteAt(lower, at); c == 'l' || c == 'u' {
			at++
		}
		return isSpace(byteAt(lower, at))
	})
}

// gluedRate is a rate or a generation with a size or a form behind a hyphen.
func gluedRate(lower string) bool {
	return everyAt(lower, "-", func(at int) bool {
		right := byteAt(lower, at+1)
		if !isDigit(right) && (strings.IndexByte("surd-", right) < 0 || right == 0) {
			return false
		}
		digits := 0
		for isDigit(byteAt(lower, at-1-digits)) {
			digits++
		}
		return digits >= 4 || strings.Contains(lower[max(0, at-5):at], "ddr")
	})
}

// nouns are what hangs on a generation by a hyphen.
var nouns = []string{"ram", "kit", "modul", "speicher", "minne", "geheugen", "memory", "arbeitsspeicher", "pamięć",
	"памят", "riegel", "stick"}

func gluedNoun(lower string) bool {
	return everyAt(lower, "-", func(at int) bool {
		return slices.ContainsFunc(nouns, func(n string) bool { return strings.HasPrefix(lower[at+1:], n) })
	})
}

var plusSizes = pattern.Of(`(?i)\b(\d{1,2})\+(\d{1,2})(gb|go|g)\b`)

// dashes are those that stand for a hyphen in what was copied from a page.
var dashes = strings.NewReplacer("\u2010", "-", "\u2011", "-", "\u2012", "-", "\u2013", "-", "\u2014", "-", "\u2212",
	"-", "\u00ad", "")

// normal brings a listing to one alphabet of figures, to spaces between scripts, and
// to the ways of writing that the grammar knows. What is quoted comes from the text
// as it was, as far as words stay one.
func normal(text string) string {
	text = norm.NFKC.String(text)
	ascii := isASCII(text)
	if !ascii {
		text = dashes.Replace(text)
	}
	for next := 0; ; {
		lower := strings.ToLower(text)
		if len(lower) != len(text) {
			text = lower // a letter whose small form is longer
		}
		found := lexicons().index.firstIn(lower, next)
		if found < 0 {
			break
		}
		p := lexicons().phrases[found]
		text = replaceWord(text, p.text, " "+p.means+" ")
		next = found + 1
	}
	if !ascii {
		text = apart(text)
	}
	lower := strings.ToLower(text)
	for _, r := range rewritings() {
		if !r.may(lower) {
			continue
		}
		if now := r.from.ReplaceAllString(text, r.to); now != text {
			text, lower = now, strings.ToLower(now)
		}
	}
	if !strings.Contains(text, "+") {
		return text
	}
	return plusSizes().ReplaceAllStringFunc(text, func(m string) string {
		p := plusSizes().FindStringSubmatch(m)
		if p[1] == p[2] {
			return "2x" + p[1] + p[3]
		}
		return p[1] + p[3] + " " + p[2] + p[3]
	})
}

func isASCII(text string) bool {
	for i := range len(text) {
		if text[i] >= 0x80 {
			return false
		}
	}
	return true
}

// A phraseIndex finds which phrases stand anywhere in a text, by their first two bytes.
type phraseIndex struct {
	heads   [1 << 10]uint64 // a bit for each pair of bytes that a phrase begins with
	phrases []phrase
	by      map[uint16][]int
}

func indexOf(phrases []phrase) *phraseIndex {
	x := &phraseIndex{phrases: phrases, by: make(map[uint16][]int)}
	for i, p := range phrases {
		head := uint16(p.text[0])<<8 | uint16(p.text[1])
		x.heads[head>>6] |= 1 << (head & 63)
		x.by[head] = append(x.by[head], i)
	}
	return x
}

// firstIn is the first phrase, from a number on, that stands in a text; -1 for none.
func (x *phraseIndex) firstIn(lower string, from int) int {
	first := -1
	for i := 0; i+1 < len(lower); i++ {
		head := uint16(lower[i])<<8 | uint16(lower[i+1])
		if x.heads[head>>6]&(1<<(head&63)) == 0 {
			continue
		}
		for _, n := range x.by[head] {
			if n >= from && (first < 0 || n < first) && strings.HasPrefix(lower[i:], x.phrases[n].text) {
				first = n
			}
		}
	}
	return first
}

// replaceWord replaces a phrase where no letter of an alphabet stands at its ends.
func replaceWord(text, phrase, by string) string {
	var b strings.Builder
	for {
		lower := strings.ToLower(text)
		if len(lower) != len(text) {
			text = lower // a letter whose small form is longer
		}
		at := strings.Index(lower, phrase)
		if at < 0 {
			b.WriteString(text)
			return b.String()
		}
		end := at + len(phrase)
		before, after := lastRune(text[:at]), firstRune(text[end:])
		b.WriteString(text[:at])
		if !glued(phrase) && (unicode.IsLetter(before) || unicode.IsLetter(after)) {
			b.WriteString(text[at:end])
		} else {
			b.WriteString(by)
		}
		text = text[end:]
	}
}

func lastRune(s string) rune {
	last, size := utf8.DecodeLastRuneInString(s)
	if size == 0 {
		return 0
	}
	return last
}

func firstRune(s string) rune {
	for _, r := range s {
		return r
	}
	return 0
}

// apart puts a space where figures or Latin letters meet another script.
func apart(text string) string {
	script := func(r rune) int {
		switch {
		case r < 0x80 && (unicode.IsLetter(r) || unicode.IsDigit(r)):
			return 1
		case unicode.In(r, unicode.Cyrillic):
			return 2
		case unicode.In(r, unicode.Han, unicode.Hiragana, unicode.Katakana):
			return 3
		}
		return 0
	}
	var b strings.Builder
	last := 0
	for _, r := range text {
		now := script(r)
		if last != 0 && now != 0 && last != now {
			b.WriteByte(' ')
		}
		b.WriteRune(r)
		last = now
	}
	return b.String()
}

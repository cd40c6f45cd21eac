package module

import (
	"regexp"
	"strings"
	"sync"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// A rewriting brings one way of writing to that which the grammar knows.
type rewriting struct {
	from *regexp.Regexp
	to   string
}

// rewritings are tried in their order, whatever the case of letters.
var rewritings = sync.OnceValue(func() (list []rewriting) {
	for _, x := range [][2]string{
		{`\bs[._]o[._]?dimm|\bso[._]dimm`, "SO-DIMM"},
		{`\b(lp)?ddr[ -]([2-5])(l|u|x)?\b`, "${1}ddr$2$3"},
		{`\bdrr([2-5])`, "ddr$1"},
		{`\bd([2-5])\b([^x])`, "ddr$1$2"},
		{`\b(\d{1,2})\s*\+\s*(\d{1,2})\s*(gb|go|g)\b`, "$1+$2$3"}, // see samePlus
		{`(\d)\s*[×хX*✕]\s*(\d)`, "${1}x$2"},
		{`(gb|mb|go|mo|g)\s*[×х*✕]\s*(\d)`, "${1}x$2"},
		{`(\d)\s*[×х*✕]`, "${1}x"},
		{`(\d{3})o\b`, "${1}0"},
		{`(r)\s*[×х]\s*(\d)`, "${1}x$2"},
		{`\b(pc[2-5]?[lu]?)\s+-?\s*(\d{4,5}[a-z]{0,2})\b`, "$1-$2"},
		{`\b(pc[2-5]?[lu]?)\s*-\s*(\d{4,5}[a-z]{0,2})\b`, "$1-$2"},
		{`\b(pc[2-5]?[lu]?-\d{4,5}[a-z]{1,2})\s*-\s*([a-z]{2}\d)\s*-\s*(\d{2,4})\b`, "$1-$2-$3"},
		{`\b(pc[2-5]?[lu]?-\d{4,5}[a-z])\s+(\d{1,2}-\d{1,2}-[a-z]\d)\b`, "$1-$2"},
		{`\b(\d{1,3})[.,](\d{3})\s*mb\b`, "$1$2 mb"},
		{`(\d(?:gb|gib|mb|go|mo))-?(ddr\d|lpddr\d|\d{3,5}\b|so-?dimm|[ur]?-?dimm)`, "$1 $2"},
		{`(ddr\d[lux]?|\d{4})-(\d+(?:gb|go|mb)|so-?dimm|[ur]?-?dimm)`, "$1 $2"},
		{`-(ram|kit|modul|module|speicher|minne|geheugen|memory|arbeitsspeicher|pamięć|памяти|память|riegel|stick)\b`, " $1"},
		{`\b(so-?dimm|dimm)-(\d{3})\b`, "$1 $2-pin"},
		{`\b(ssd|hdd)(\d)`, "$1 $2"},
		{`_`, " "},
	} {
		list = append(list, rewriting{regexp.MustCompile("(?i)" + x[0]), x[1]})
	}
	return list
})

var plusSizes = sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(`(?i)\b(\d{1,2})\+(\d{1,2})(gb|go|g)\b`) })

// dashes are those that stand for a hyphen in what was copied from a page.
var dashes = strings.NewReplacer("\u2010", "-", "\u2011", "-", "\u2012", "-", "\u2013", "-", "\u2014", "-", "\u2212", "-", "\u00ad", "")

// normal brings a listing to one alphabet of figures, to spaces between scripts, and
// to the ways of writing that the grammar knows. What is quoted comes from the text
// as it was, as far as words stay one.
func normal(text string) string {
	text = dashes.Replace(norm.NFKC.String(text))
	for _, p := range lexicons().phrases {
		text = replaceWord(text, p.text, " "+p.means+" ")
	}
	text = apart(text)
	for _, r := range rewritings() {
		text = r.from.ReplaceAllString(text, r.to)
	}
	return plusSizes().ReplaceAllStringFunc(text, func(m string) string {
		p := plusSizes().FindStringSubmatch(m)
		if p[1] == p[2] {
			return "2x" + p[1] + p[3]
		}
		return p[1] + p[3] + " " + p[2] + p[3]
	})
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

func lastRune(s string) (last rune) {
	for _, r := range s {
		last = r
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

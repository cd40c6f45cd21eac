package catalogue

import (
	"regexp"
	"strings"
	"sync"
)

// People write a processor shorter than it calls itself: "i5-8250U", "i7 920",
// "Ryzen 5 3600", "FX 6300". Each way of writing is brought to the brand strings
// that such processors report, in the order in which they are tried.

// A spelling is one way in which people write processors, and how those name
// themselves.
type spelling struct {
	written *regexp.Regexp
	reports []string // $1 and on are what was written
}

var spellings = sync.OnceValue(func() (list []spelling) {
	for _, x := range []struct {
		written string
		reports []string
	}{
		{`(?:intel )?(?:core )?ultra ([3579]) ?(?:processor )?(\d{3}\w*)`, []string{"Intel(R) Core(TM) Ultra $1 $2"}},
		{`(?:intel )?(?:core )?i([3579])[- ]?([0-9][0-9a-z]+)(?: .*)?`, []string{"Intel(R) Core(TM) i$1-$2"}},
		{`(?:intel )?(?:core )?i([3579])[- ]?(\d{3})([a-z]?)m?`, []string{"Intel(R) Core(TM) i$1 CPU $3 $2 @"}},
		{`(?:intel )?(?:core )?m([357])[- ]?([0-9][0-9a-z]+)`, []string{"Intel(R) Core(TM) m$1-$2"}},
		{`(?:intel )?pentium (?:gold |silver )?(?:cpu )?([a-z]?\d+[a-z]*)`,
			[]string{"Intel(R) Pentium(R) Gold $1", "Intel(R) Pentium(R) Silver $1", "Intel(R) Pentium(R) CPU $1",
				"Intel(R) Pentium(R) $1"}},
		{`(?:intel )?celeron (?:cpu )?([a-z]?\d+[a-z]*)`, []string{"Intel(R) Celeron(R) $1", "Intel(R) Celeron(R) CPU $1"}},
		{`(?:intel )?atom (?:cpu )?([a-z]\d+[a-z]*|x\d-?[a-z]?\d+)`,
			[]string{"Intel(R) Atom(TM) CPU $1", "Intel(R) Atom(TM) $1"}},
		{`(?:intel )?xeon (?:cpu )?([a-z]\w*[- ]?\d+\w*)(?: ?(v\d))?`,
			[]string{"Intel(R) Xeon(R) CPU $1 $2 @", "Intel(R) Xeon(R) CPU $1", "Intel(R) Xeon(R) $1"}},
		{`(?:intel )?(n\d{2,3})`, []string{"Intel(R) $1"}},
		{`(?:amd )?ryzen ?([3579]|ai \d?\w*|threadripper)[- ]?(pro )?([0-9][0-9a-z]+)(?: .*)?`,
			[]string{"AMD Ryzen $1 $2$3 Processor"}},
		{`(?:amd )?(?:ryzen )?threadripper (pro )?(\d+\w*)`, []string{"AMD Ryzen Threadripper $1$2 Processor"}},
		{`(?:amd )?fx[- ]?([0-9]{4}\w*)(?: .*)?`, []string{"AMD FX(tm)-$1 Processor", "AMD FX-$1 Radeon"}},
		{`(?:amd )?(phenom|athlon|turion|sempron) (ii )?(x[2346] |64 (?:x2 )?)?([a-z]{0,2}-?\d+\w*\+?)(?: .*)?`,
			[]string{"AMD $1(tm) $2$3$4 Processor", "AMD $1 $4 with Radeon"}},
		{`(?:amd )?(athlon) (gold|silver) (\w+)(?: .*)?`, []string{"AMD $1 $2 $3 with Radeon"}},
		{`(?:amd )?((?:pro )?(?:a(?:4|6|8|10|12)|e[12]|e)-\d+\w*)(?: .*)?`,
			[]string{"AMD $1 APU with Radeon", "AMD $1 Radeon", "AMD $1 Processor"}},
	} {
		list = append(list, spelling{regexp.MustCompile(`(?i)^` + x.written + `$`), x.reports})
	}
	return list
})

// asReported are the brand strings that a processor may mean that a person wrote,
// the written text itself first.
func asReported(text string) (brands []string) {
	text = strings.Join(strings.Fields(text), " ")
	for _, s := range spellings() {
		m := s.written.FindStringSubmatchIndex(text)
		if m == nil {
			continue
		}
		for _, r := range s.reports {
			brand := string(s.written.ExpandString(nil, r, text, m))
			brands = append(brands, titled(strings.Join(strings.Fields(brand), " ")))
		}
	}
	return brands
}

// titled brings the letters of a model number to how processors report them: in
// capitals behind a figure, and names with a capital.
func titled(brand string) string {
	words := strings.Split(brand, " ")
	for i, w := range words {
		lower := strings.ToLower(w)
		switch {
		case lower == "v2" || lower == "v3" || lower == "v4" || lower == "v5" || lower == "v6":
			words[i] = lower
		case strings.ContainsAny(w, "0123456789") && !strings.Contains(w, "(") && i > 0:
			words[i] = upperModel(w)
		case lower == "ii" || lower == "pro" || lower == "ai":
			words[i] = strings.ToUpper(w)
		case strings.HasPrefix(lower, "phenom") || strings.HasPrefix(lower, "athlon") ||
			strings.HasPrefix(lower, "turion") || strings.HasPrefix(lower, "sempron") || lower == "gold" ||
			lower == "silver" || lower == "threadripper":
			words[i] = strings.ToUpper(lower[:1]) + lower[1:]
		}
	}
	return strings.Join(words, " ")
}

// upperModel writes a model number in capitals, but for the "i" and "m" of the
// family before it.
func upperModel(w string) string {
	if len(w) > 2 && (w[0] == 'i' || w[0] == 'm') && w[2] == '-' {
		return w[:3] + strings.ToUpper(w[3:])
	}
	return strings.ToUpper(w)
}

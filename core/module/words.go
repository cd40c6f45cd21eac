package module

import (
	"strconv"
	"strings"
)

// A word is one word of free text: lower case, decimal point instead of
// comma, with the text as it was for quoting.
type word struct {
	text   string
	quoted string
	colon  bool // one stands behind it: "ECC: no"
}

// words cuts free text apart and brings each word to what it means. Brackets,
// semicolons and slashes separate, as do a comma that is no decimal one ("1,2 V") and
// a full stop between letters or figures. A question mark stays with its word, which so
// is none that is understood: what a seller asks, he does not state.
func words(text string) []word {
	text = normal(text)
	out := make([]word, 0, 4+len(text)/5)
	start := -1
	flush := func(end int) {
		if start >= 0 {
			quoted := strings.Trim(text[start:end], ".-:")
			if quoted != "" {
				w := strings.ToLower(strings.ReplaceAll(quoted, ",", "."))
				if means, ok := lexicons().words[w]; ok {
					w = means
				} else if means, ok := lexicons().words[w+"."]; ok && end < len(text)+1 {
					w = means
				}
				out = append(out, word{w, quoted, text[end-1] == ':' || strings.HasPrefix(strings.TrimLeft(text[end:], " "), ":")})
			}
			start = -1
		}
	}
	for i, r := range text {
		digit := func(at int) bool { return at >= 0 && at < len(text) && text[at] >= '0' && text[at] <= '9' }
		switch {
		case (r == ',' || r == '.') && digit(i-1) && digit(i+1) && bareBefore(text, i):
		case r == '.' && !(letterOrDigit(text, i-1) && letterOrDigit(text, i+1)):
		case strings.ContainsRune(" \t\n\r,;|!()[]{}\"'+*=.&\u00a0\u2009\u3000\u3001",
			r) || r == '/' && !isUnitSlash(text, i):
			flush(i)
			continue
		}
		if start < 0 {
			start = i
		}
	}
	flush(len(text))
	return out
}

// bareBefore reports whether the figure that ends before i stands by itself, or behind
// the "CL" of a latency: in "DDR4,8GB" it does not.
func bareBefore(text string, i int) bool {
	for i--; i >= 0 && text[i] >= '0' && text[i] <= '9'; i-- {
	}
	return i < 0 || !letterAt(text, i) || text[i]|0x20 == 'l' && i > 0 && text[i-1]|0x20 == 'c' ||
		text[i]|0x20 == 'c' && !letterAt(text, i-1)
}

func letterAt(text string, i int) bool {
	return i >= 0 && i < len(text) && (text[i]|0x20 >= 'a' && text[i]|0x20 <= 'z' || text[i] >= 0x80)
}

func letterOrDigit(text string, i int) bool {
	return letterAt(text, i) || i >= 0 && i < len(text) && text[i] >= '0' && text[i] <= '9'
}

// isUnitSlash reports whether the slash at i belongs to "MT/s" or "MB/s".
func isUnitSlash(text string, i int) bool {
	return i > 0 && i+1 < len(text) && (text[i+1] == 's' || text[i+1] == 'S') &&
		(text[i-1] == 't' || text[i-1] == 'T' || text[i-1] == 'b' || text[i-1] == 'B')
}

// number splits a word into a leading figure and what follows, "3200mhz" into
// 3200 and "mhz". A minus or an exponent is no part of a figure.
func number(s string) (figure float64, unit string, ok bool) {
	end, point := 0, false
	for end < len(s) && (s[end] >= '0' && s[end] <= '9' || s[end] == '.' && !point && end > 0) {
		point = point || s[end] == '.'
		end++
	}
	if end == 0 || end > 12 {
		return 0, "", false
	}
	figure, err := strconv.ParseFloat(strings.TrimSuffix(s[:end], "."), 64)
	return figure, strings.TrimPrefix(s[end:], "-"), err == nil
}

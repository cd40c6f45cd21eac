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
}

var tidied = strings.NewReplacer("×", "x", "®", "", "™", "")

// words cuts free text apart. Brackets, semicolons and slashes separate, as
// does a comma that is no decimal one ("1,2 V").
func words(text string) []word {
	var out []word
	start := -1
	flush := func(end int) {
		if start >= 0 {
			quoted := strings.Trim(text[start:end], ".-:")
			if quoted != "" {
				out = append(out, word{strings.ToLower(strings.ReplaceAll(quoted, ",", ".")), quoted})
			}
			start = -1
		}
	}
	for i, r := range text {
		digit := func(at int) bool { return at >= 0 && at < len(text) && text[at] >= '0' && text[at] <= '9' }
		switch {
		case r == ',' && digit(i-1) && digit(i+1):
		case strings.ContainsRune(" \t\n\r,;|()[]{}\"'+*\u00a0\u2009", r) || r == '/' && !digit(i-1) && !isUnitSlash(text, i):
			flush(i)
			continue
		case r == '\u00d7': // the multiplication sign stands for x
		}
		if start < 0 {
			start = i
		}
	}
	flush(len(text))
	for i := range out {
		out[i].text = tidied.Replace(out[i].text)
	}
	return out
}

// isUnitSlash reports whether the slash at i belongs to "MT/s" or "MB/s".
func isUnitSlash(text string, i int) bool {
	return i > 0 && i+1 < len(text) && (text[i+1] == 's' || text[i+1] == 'S') && (text[i-1] == 't' || text[i-1] == 'T' || text[i-1] == 'b' || text[i-1] == 'B')
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

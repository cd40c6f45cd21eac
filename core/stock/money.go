package stock

import (
	"errors"
	"fmt"
	"strings"
)

// Money is an amount in hundredths of a currency's unit. Which currency it is
// stands beside it.
type Money int64

// String writes the amount with two decimals, "61.90".
func (m Money) String() string {
	sign := ""
	if m < 0 {
		sign, m = "-", -m
	}
	return fmt.Sprintf("%s%d.%02d", sign, m/100, m%100)
}

// Units returns the amount in the currency's unit, for JSON.
func (m Money) Units() float64 { return float64(m) / 100 }

// ErrMoney is what every error of ParseMoney wraps.
var ErrMoney = errors.New("not an amount of money")

// symbols are currency signs and words, with the codes of ISO 4217. Signs that
// several currencies share name none.
var symbols = map[string]string{"€": "EUR", "euro": "EUR", "£": "GBP", "¥": "", "$": "", "kr": "", "fr": "",
	"zł": "PLN", "chf": "CHF"}

// maxMoney is more than any list's price, in hundredths.
const maxMoney = 1_000_000_00

// ParseMoney reads a price as lists write it: "61.90", "61,90", "1.234,50",
// "1,234.50", "€ 61,90", "61.9 EUR", "1'234.50". Of one separator, two digits
// or one behind it make decimals and three make thousands. currency is the code
// that stands beside it, empty where none does. Errors wrap ErrMoney.
func ParseMoney(text string) (m Money, currency string, err error) {
	s := strings.TrimSpace(strings.ToLower(text))
	const two = "%w: %q names two currencies"
	signs := symbols
	if bareFigure(s) {
		signs = nil
	}
	for sign, code := range signs {
		if !strings.Contains(s, sign) {
			continue
		}
		if currency != "" && code != "" && currency != code {
			return 0, "", fmt.Errorf(two, ErrMoney, text)
		}
		if s = strings.TrimSpace(strings.ReplaceAll(s, sign, "")); code != "" {
			currency = code
		}
	}
	if i := strings.IndexFunc(s, func(r rune) bool { return r >= 'a' && r <= 'z' }); i >= 0 {
		word := strings.TrimFunc(s, func(r rune) bool { return r < 'a' || r > 'z' })
		if len(word) != 3 || strings.ContainsFunc(word, func(r rune) bool { return r < 'a' || r > 'z' }) {
			return 0, "", fmt.Errorf("%w: %q", ErrMoney, text)
		}
		code := strings.ToUpper(word)
		if currency != "" && currency != code {
			return 0, "", fmt.Errorf(two, ErrMoney, text)
		}
		currency = code
		s = strings.TrimSpace(strings.Replace(s, word, "", 1))
	}
	digits, decimals, negative, ok := figures(s)
	if !ok {
		return 0, "", fmt.Errorf("%w: %q; write it as 61.90", ErrMoney, text)
	}
	v := int64(0)
	for _, r := range digits {
		v = v*10 + int64(r-'0')
		if v > maxMoney {
			return 0, "", fmt.Errorf("%w: %q is too large", ErrMoney, text)
		}
	}
	switch decimals {
	case 0:
		v *= 100
	case 1:
		v *= 10
	}
	if v > maxMoney {
		return 0, "", fmt.Errorf("%w: %q is too large", ErrMoney, text)
	}
	if negative {
		v = -v
	}
	return Money(v), currency, nil
}

// bareFigure reports whether an amount is figures and separators alone: nothing names a
// currency then.
func bareFigure(s string) bool {
	for i := range len(s) {
		if s[i] != '.' && s[i] != ',' && (s[i] < '0' || s[i] > '9') {
			return false
		}
	}
	return true
}

// Signs that stand between the thousands, and those that do or begin the
// decimals.
var (
	thousands  = strings.NewReplacer(" ", "", "\u00a0", "", "\u202f", "", "'", "", "’", "")
	separators = strings.NewReplacer(".", "", ",", "")
)

// figures takes an amount apart: its digits, and how many of them are
// decimals.
func figures(s string) (digits string, decimals int, negative, ok bool) {
	s, negative = strings.CutPrefix(s, "-")
	s = thousands.Replace(s)
	s = strings.TrimSuffix(strings.TrimSuffix(s, ".-"), ",-")
	last := strings.LastIndexAny(s, ".,")
	if last >= 0 {
		tail := s[last+1:]
		switch one := strings.Count(s, ".")+strings.Count(s, ",") == 1; {
		case len(tail) == 1 || len(tail) == 2:
			decimals = len(tail)
			if strings.Contains(s[:last], s[last:last+1]) {
				return "", 0, false, false // two decimal signs of a kind
			}
		case len(tail) == 3 && (one || !strings.Contains(s[:last], otherSign(s[last]))):
			// Thousands.
		default:
			return "", 0, false, false
		}
	}
	digits = separators.Replace(s)
	if digits == "" || strings.ContainsFunc(digits, func(r rune) bool { return r < '0' || r > '9' }) {
		return "", 0, false, false
	}
	return digits, decimals, negative, true
}

func otherSign(c byte) string {
	if c == '.' {
		return ","
	}
	return "."
}

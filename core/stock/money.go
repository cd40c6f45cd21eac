package stock

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"epitome/core/pattern"
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

// symbols are currency signs and words, with the codes of ISO 4217. Signs that several currencies share name none.
var symbols = map[string]string{"€": "EUR", "euro": "EUR", "£": "GBP", "¥": "", "$": "", "kr": "", "fr": "",
	"zł": "PLN", "chf": "CHF", "kč": "CZK", "₽": "RUB", "руб": "RUB", "₺": "TRY", "tl": "TRY", "₹": "INR", "r$": "BRL",
	"us$": "USD", "ft": "HUF", "lei": "RON", "лв": "BGN", "₴": "UAH", "₩": "KRW", "円": "JPY", "元": "CNY"}

// sharers are the currencies that share a sign.
var sharers = map[string]string{"$": "USD CAD AUD NZD HKD SGD MXN TWD", "¥": "JPY CNY RMB", "kr": "SEK NOK DKK",
	"fr": "CHF"}

// signMay reports whether a sign may stand for a currency; no sign may for any.
func signMay(sign, code string) bool { return sign == "" || strings.Contains(sharers[sign], code) }

// currencyOf is the currency that a cell of its own names, empty where it names none.
func currencyOf(cell string) string {
	c := strings.ToLower(strings.TrimSpace(cell))
	if code := symbols[c]; code != "" {
		return code
	}
	if code := strings.ToUpper(c); slices.Contains(currencies, code) {
		return code
	}
	return ""
}

// maxMoney is more than any list's price, in hundredths.
const maxMoney = 1_000_000_00

// amountIn is an amount within a price's cell: what stands before it, itself, what stands behind.
var amountIn = pattern.Of(`(?s)^([^\d]*?)` +
	`([-+]?[.,]?\d(?:[\d.,]|['’ \x{a0}\x{202f}]\d)*(?:[.,]?[-–—]+)?)(.*)$`)

// ParseMoney reads an amount as somebody writes it: "61.90", "61,90", "1.234,50",
// "1,234.50", "€ 61,90", "61.9 EUR", "1'234.50", "33,-". Of one separator, two digits
// or one behind it make decimals and three make thousands. currency is the code
// that stands beside it, empty where none does. Errors wrap ErrMoney.
func ParseMoney(text string) (m Money, currency string, err error) {
	m, currency, _, err = readMoney(text, true)
	return m, currency, err
}

// ParsePrice is ParseMoney for a cell of a list, in which other words may stand behind the amount and mean nothing: "20
// ono".
func ParsePrice(text string) (m Money, currency string, err error) {
	m, currency, _, err = readMoney(text, false)
	return m, currency, err
}

// readMoney reads an amount; sign is a currency's that several share, where no other names it. alone refuses words that
// are no currency.
func readMoney(text string, alone bool) (m Money, currency, sign string, err error) {
	s := strings.TrimSpace(strings.ToLower(text))
	if bareFigure(s) {
		m, err = amountOf(s, text)
		return m, "", "", err
	}
	parts := amountIn().FindStringSubmatch(s)
	if parts == nil {
		return 0, "", "", fmt.Errorf("%w: %q; write it as 61.90", ErrMoney, text)
	}
	before, behind := strings.TrimSpace(parts[1]), parts[3]
	if strings.HasSuffix(before, "-") {
		before, parts[2] = strings.TrimSpace(strings.TrimSuffix(before, "-")), "-"+parts[2]
	}
	for i, beside := range []string{before, behind} {
		words := strings.FieldsFunc(beside,
			func(r rune) bool { return !unicode.IsLetter(r) && !unicode.Is(unicode.Sc, r) })
		if i == 1 && strings.ContainsFunc(beside, unicode.IsDigit) && !oneOf().MatchString(beside) {
			return 0, "", "", fmt.Errorf("%w: %q; a second number stands beside it", ErrMoney, text)
		}
		for j, word := range words {
			code := currencyOf(word)
			_, known := symbols[word]
			touches := i == 1 && j == 0 && strings.HasPrefix(beside, word)
			switch {
			case code != "" && currency != "" && code != currency:
				return 0, "", "", fmt.Errorf("%w: %q names two currencies", ErrMoney, text)
			case code != "":
				currency = code
			case known:
				sign = word
			case alone, i == 0 || touches: // "from 20", "20x"
				return 0, "", "", fmt.Errorf("%w: %q; write it as 61.90", ErrMoney, text)
			}
		}
	}
	if currency != "" {
		if sign != "" && !signMay(sign, currency) {
			return 0, "", "", fmt.Errorf("%w: %q names two currencies", ErrMoney, text)
		}
		sign = ""
	}
	m, err = amountOf(parts[2], text)
	return m, currency, sign, err
}

// oneOf is what may stand behind a price with a number in it: what one costs, and the tax.
var oneOf = pattern.Of(`^[^\d]*(?:(?:/|per|pro|je)\s*1\s*[^\d]*|` +
	`\(?[^\d]*\d{1,2}(?:[.,]\d)?\s*%[^\d]*)$`)

// amountOf reads the figures of an amount.
func amountOf(s, text string) (Money, error) {
	digits, decimals, negative, ok := figures(s)
	if !ok {
		return 0, fmt.Errorf("%w: %q; write it as 61.90", ErrMoney, text)
	}
	v := int64(0)
	for _, r := range digits {
		v = v*10 + int64(r-'0')
		if v > maxMoney {
			return 0, fmt.Errorf("%w: %q is too large", ErrMoney, text)
		}
	}
	switch decimals {
	case 0:
		v *= 100
	case 1:
		v *= 10
	}
	if v > maxMoney {
		return 0, fmt.Errorf("%w: %q is too large", ErrMoney, text)
	}
	if negative {
		v = -v
	}
	return Money(v), nil
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
	if bare := strings.TrimRight(s, "-–—"); bare != s {
		s = strings.TrimRight(bare, ".,")
	}
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

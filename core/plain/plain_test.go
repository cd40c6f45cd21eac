package plain_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/plain"
)

func TestLineKeepsTextAndDropsWhatControls(t *testing.T) {
	for in, want := range map[string]string{
		"  Marram Memory ":         "Marram Memory",
		"red\x1b[31m":              "red [31m",
		"two\nlines\r\n":           "two lines",
		"left\u202Eright":          "leftright",
		"zero\u200Bwidth\uFEFF":    "zerowidth",
		"bad\xff\xfebytes":         "bad\uFFFD\uFFFDbytes",
		"Müller & Söhne":           "Müller & Söhne",
		"nul\x00nul":               "nul nul",
		"c1\u009b31m":              "c1 31m",
		"":                         "",
		"para\u2029graph\u2028end": "para graph end",
	} {
		assert.Equal(t, want, plain.Line(in), "%q", in)
	}
}

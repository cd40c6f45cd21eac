package plain_test

import (
	"errors"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/plain"
)

func TestLineKeepsTextAndDropsWhatControls(t *testing.T) {
	for in, want := range map[string]string{
		"  Marram Memory ":               "Marram Memory",
		"red\x1b[31m":                    "red [31m",
		"two\nlines\r\n":                 "two lines",
		"left\u202Eright":                "leftright",
		"zero\u200Bwidth\uFEFF":          "zerowidth",
		"fil\u3164\u115F\u1160\uFFA0led": "filled",
		"join\u034F\u17B4\u2800er":       "joiner",
		"bad\xff\xfebytes":               "bad\uFFFD\uFFFDbytes",
		"Müller & Söhne":                 "Müller & Söhne",
		"nul\x00nul":                     "nul nul",
		"c1\u009b31m":                    "c1 31m",
		"":                               "",
		"para\u2029graph\u2028end":       "para graph end",
	} {
		assert.Equal(t, want, plain.Line(in), "%q", in)
	}
}

// What acts on a line or a terminal, and what is shown: every kind of character that has no picture of its own,
// and its neighbours that have one.
func TestWhatActsAndWhatIsShown(t *testing.T) {
	for _, r := range "\x00\t\n\r\x1b\x1f\x7f\u0080\u009b\u009f\u2028\u2029" +
		"\u00ad\u200b\u200d\u202e\u2066\ufeff\ue000\ufe0f\ufdd0\U000E0001" {
		assert.True(t, plain.Acts(r), "%U", r)
		assert.NotContains(t, plain.Line("a"+string(r)+"b"), string(r), "%U", r)
	}
	for _, r := range " !~\u00a0\u00a1é\u2027\u202f\u2030€\u4e2d\ufffd" {
		assert.False(t, plain.Acts(r), "%U", r)
		assert.Equal(t, "a"+string(r)+"b", plain.Line("a"+string(r)+"b"), "%U", r)
	}
	for in, want := range map[string]string{"a\x7fb": "a b", "a\x1fb": "a b", "a~b": "a~b", "a\u200bb": "ab",
		"a\ue000b": "ab",
		"a\ufe0fb": "ab", "a\ufdd0b": "ab"} {
		assert.Equal(t, want, plain.Line(in), "%q", in)
	}
}

// Text keeps its lines, its tabs, its blanks and its length.
func TestTextKeepsItsLines(t *testing.T) {
	assert.Equal(t, " a\n\tb  c ", plain.Text(" a\n\tb\x1b\rc\u200b "))
	long := strings.Repeat("é", 1001)
	assert.Equal(t, long, plain.Text(long))
	assert.Equal(t, strings.Repeat("é", 1000)+"…", plain.Line(long))
	assert.Equal(t, long[:2000], plain.Line(long[:2000]))
}

// Clip counts characters, and marks what it cuts.
func TestClipCountsCharacters(t *testing.T) {
	for n, want := range []string{"…", "é…", "éa…", "éa€…", "éa€b", "éa€b", "éa€b", "éa€b", "éa€b", "éa€b"} {
		assert.Equal(t, want, plain.Clip("éa€b", n), n)
	}
	assert.Equal(t, "", plain.Clip("", 0))
	assert.Equal(t, "a…", plain.Clip("a\xff\xfe", 1))
}

// A count with its noun, and what is wrong in a text in a person's words.
func TestCountsAndDecoding(t *testing.T) {
	for n, want := range map[int]string{0: "0 lines", 1: "1 line", 2: "2 lines", -1: "-1 lines"} {
		assert.Equal(t, want, plain.Count(n, "line"))
	}
	for in, want := range map[string]string{"yaml: line 3: did not find a key": "line 3: did not find a key",
		"yaml: unmarshal errors:\n  line 2: field colour not found in type records.Hand": "line 2: there is no key " +
			`"colour" here`,
		"something else": "something else"} {
		assert.Equal(t, want, plain.Decoding(errors.New(in)))
	}
}

package view_test

import (
	"bytes"
	"image/png"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/docket"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/rule"
	"epitome/core/trial"
	"epitome/internal/view"
)

// hostile is a docket whose every text comes from somebody who means harm.
func hostile() docket.Docket {
	const bad = `<script>alert("x")</script> & =1+1`
	return docket.Docket{Heading: []string{bad}, Job: bad, Title: bad, Date: "2026-11-23", Machine: bad, Board: bad,
		Verdict: rule.CannotTell,
		Trial:   trial.Trial{Total: 16 * jedec.GiB}, Places: []machine.Place{{Name: bad}},
		Items: []docket.Item{{Units: 1, What: bad, Order: bad, Price: "1.00", Facts: []string{bad}, Spellings: []string{bad},
			Accept: []docket.Choice{{What: bad, Because: bad}}, Avoid: []docket.Choice{{What: bad, Because: bad}}}},
		Cost: "1.00", TakeOut: []string{bad}, Fit: []string{bad}, Handling: []string{"first", "last"},
		Expect: [][2]string{{"Memory fitted", bad}}, Waits: []string{bad}}
}

func TestNoMarkupReachesTheHTML(t *testing.T) {
	var b bytes.Buffer
	require.NoError(t, view.DocketHTML(&b, hostile(), "a4"))
	html := b.String()
	assert.NotContains(t, html, "<script>")
	assert.Contains(t, html, "&lt;script&gt;")
	assert.NotContains(t, html, "http", "nothing is fetched")
	for _, part := range []string{"size: a4", "Fitting", "Afterwards", "Not proved yet", "data:image/png;base64,"} {
		assert.Contains(t, html, part)
	}
}

func TestThePDFIsWholeAndAlwaysTheSame(t *testing.T) {
	for _, paper := range []string{"a4", "letter"} {
		var first, second bytes.Buffer
		require.NoError(t, view.DocketPDF(&first, hostile(), paper))
		require.NoError(t, view.DocketPDF(&second, hostile(), paper))
		assert.True(t, bytes.Equal(first.Bytes(), second.Bytes()), paper)
		assert.True(t, strings.HasPrefix(first.String(), "%PDF-"))
		assert.Contains(t, first.String(), "%%EOF")
		assert.GreaterOrEqual(t, strings.Count(first.String(), "/Type /Page\n"), 2, "the slip and the sheet")
	}
}

func TestTheTextNumbersEveryStep(t *testing.T) {
	d := hostile()
	d.Fit = []string{"8 GB DDR4-2400 SO-DIMM into B"}
	page := view.NewPage(view.Look{Width: 80})
	page.Docket(d)
	var b bytes.Buffer
	require.NoError(t, page.Flush(&b))
	text := b.String()
	for _, part := range []string{"  1. first", "  3. Put 8 GB DDR4-2400 SO-DIMM into B", "  4. last", "NOT PROVED YET",
		"[ ] Memory fitted"} {
		assert.Contains(t, text, part)
	}
	for line := range strings.Lines(text) {
		assert.LessOrEqual(t, len([]rune(strings.TrimSuffix(line, "\n"))), 80, line)
	}
}

func TestTheSlotMapAsAPicture(t *testing.T) {
	places := []view.Site{{Channel: "A", Name: "DIMM_A1 <b>&", Holds: "8 GB"},
		{Channel: "A", Name: "DIMM_A2", Holds: "free", Form: view.FreeSocket},
		{Channel: "B", Name: "onboard", Holds: "4 GB", Form: view.SolderedBank},
		{Name: strings.Repeat("a long name ", 9), Holds: "?", Form: view.UnclearPlace}}
	var svg, raster bytes.Buffer
	require.NoError(t, view.DrawSlotMap(&svg, "One free <socket>", places, true))
	assert.NotContains(t, svg.String(), "<b>&")
	assert.NotContains(t, svg.String(), "<socket>")
	assert.Contains(t, svg.String(), "DIMM_A1 &lt;b&gt;&amp;")
	assert.Contains(t, svg.String(), "channel not known")
	assert.Contains(t, svg.String(), "stroke-dasharray")
	require.NoError(t, view.DrawSlotMap(&raster, "One free socket", places, false))
	picture, err := png.Decode(&raster)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, picture.Bounds().Dx(), 700)
	require.NoError(t, view.DrawSlotMap(new(bytes.Buffer), "", nil, true), "a machine without places")
}

package jedec_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// The numbers follow the guides' shape; the parts themselves are made up.
func TestPartNumbersAreReadByTheGuides(t *testing.T) {
	for _, c := range []struct {
		number, maker, grade string
		generation           jedec.Generation
		form                 jedec.Form
		kind                 jedec.Kind
		cl                   string
		size                 maybe.Value[jedec.Capacity]
		width                maybe.Value[int]
	}{
		{number: "M471A9Z99ZZ9-CTD", maker: "Samsung", grade: "DDR4-2666", generation: jedec.DDR4, form: jedec.SODIMM,
			kind: jedec.Unbuffered, cl: "19"},
		{number: "M393A9Z99ZZ9-CWE", maker: "Samsung", grade: "DDR4-3200", generation: jedec.DDR4, form: jedec.DIMM,
			kind: jedec.RegisteredECC, cl: "22"},
		{number: "M378B9999ZZ9-CH9", maker: "Samsung", grade: "DDR3-1333", generation: jedec.DDR3, form: jedec.DIMM,
			kind: jedec.Unbuffered, cl: "9"},
		{number: "M471B9999ZZ9-YK0", maker: "Samsung", grade: "DDR3-1600", generation: jedec.DDR3, form: jedec.SODIMM,
			kind: jedec.Unbuffered, cl: "11"},
		{number: "HMA99GS6ZFR8N-UH", maker: "SK Hynix", grade: "DDR4-2400", generation: jedec.DDR4, form: jedec.SODIMM,
			kind: jedec.Unbuffered, cl: "17", width: maybe.Just(8)},
		{number: "HMT999U7ZFR8C-PB", maker: "SK Hynix", grade: "DDR3-1600", generation: jedec.DDR3, form: jedec.DIMM,
			kind: jedec.UnbufferedECC, cl: "11", width: maybe.Just(8)},
		{number: "MTA9ZZZ1G64HZ-2G6Z9", maker: "Micron Technology", grade: "DDR4-2666", generation: jedec.DDR4,
			form: jedec.SODIMM, kind: jedec.Unbuffered, cl: "19", size: maybe.Just(8 * jedec.GiB)},
		{number: "MT9KZZ51272AZ-1G6Z9", maker: "Micron Technology", grade: "DDR3-1600", generation: jedec.DDR3,
			form: jedec.DIMM, kind: jedec.UnbufferedECC, cl: "11", size: maybe.Just(4 * jedec.GiB)},
	} {
		p, ok := jedec.ReadPart(c.number)
		require.True(t, ok, c.number)
		assert.Equal(t, c.maker, p.Maker, c.number)
		assert.Equal(t, c.generation, p.Generation, c.number)
		assert.Equal(t, c.form, p.Form, c.number)
		assert.Equal(t, c.kind, p.Kind, c.number)
		assert.Equal(t, c.size, p.Capacity, c.number)
		assert.Equal(t, c.width, p.Width, c.number)
		x, ok := p.Grade.Get()
		require.True(t, ok, c.number)
		assert.Equal(t, c.grade, x.String(), c.number)
		cl, _ := p.CL.Get()
		assert.Equal(t, c.cl, cl.String(), c.number)
	}
	for _, s := range []string{"", "MR4S-8G24-17", "M471Z9Z99ZZ9-CTD", "M999A9Z99ZZ9-CTD", "HMZ99GS6ZFR8N-UH", "MTA",
		"SQ4-3600C18-8G", "DDR4-2400"} {
		_, ok := jedec.ReadPart(s)
		assert.False(t, ok, s)
	}
}

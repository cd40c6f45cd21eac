package stock_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/stock"
)

// A column may stand anywhere, and a list may have as many as a shop's system exports.
func TestNoColumnIsOutOfReach(t *testing.T) {
	titles, cells := make([]string, 200), make([]string, 200)
	for i := range titles {
		titles[i], cells[i] = fmt.Sprint("attribute ", i), "-"
	}
	titles[150], cells[150] = "Description", "8GB DDR4-2400 SO-DIMM"
	titles[160], cells[160] = "Price EUR", "19.90"
	titles[199], cells[199] = "Qty", "3"
	l, err := stock.Read(each([][]string{titles, cells}), stock.Options{})
	require.NoError(t, err)
	assert.Equal(t, map[stock.Field]int{stock.Description: 150, stock.Price: 160, stock.Quantity: 199}, l.Columns)
	assert.Equal(t, stock.Money(1990), l.Usable()[0].Price)
}

// What a bare figure means is told by its column's title: each kind once, and one that none tells is no part.
func TestAModuleToldInSeveralColumns(t *testing.T) {
	for name, c := range map[string]struct {
		titles, cells []string
		want          string
	}{
		"a unit in each title": {
			[]string{"Type", "GB", "MT/s", "CAS latency", "Price"},
			[]string{"DDR4", "8", "2400", "17", "9"}, "DDR4 8GB 2400MT/s CL17"},
		"volts": {
			[]string{"Art", "Kapazität", "Takt", "Spannung", "Preis"},
			[]string{"DDR3", "4", "1600", "1.35", "9"}, "DDR3 4GB 1600MHz 1.35V"},
		"megabytes": {[]string{"Kind", "MB", "Price"}, []string{"DDR2 DIMM", "2048", "9"}, "DDR2 DIMM 2048MB"},
		"units in cells, and a word twice": {[]string{"Type", "Capacity", "Name", "Price"},
			[]string{"DDR4", "8 GB", "DDR4", "9"}, "DDR4 8 GB"},
		"what says nothing of a module": {
			[]string{"Type", "Capacity", "Colour", "Price"}, []string{"DDR4", "8", "blue", "9"}, "DDR4 8GB"},
	} {
		l, err := stock.Read(each([][]string{c.titles, c.cells, c.cells, c.cells}), stock.Options{})
		require.NoError(t, err, name)
		require.NotEmpty(t, l.Usable(), name)
		assert.Equal(t, c.want, l.Usable()[0].Description, name)
		assert.NotEmpty(t, l.Beside, name)
	}
	// One column that tells all stays the only one; a column of rates counts no pieces.
	l, err := stock.Read(each([][]string{{"8GB DDR4-2400", "2400", "9.90"}, {"4GB DDR4-2400", "2400", "5.90"},
		{"4GB DDR4-2666", "2666", "6.90"}}), stock.Options{})
	require.NoError(t, err)
	assert.Equal(t, map[stock.Field]int{stock.Description: 0, stock.Price: 2}, l.Columns)
	assert.Empty(t, l.Beside)
}

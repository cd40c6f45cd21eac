package propose

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/module"
)

// What a plan keeps of a module of the market is read again as that module: size, grade, form and kind, of every one.
func TestWhatIsSpecifiedIsReadAgain(t *testing.T) {
	tried := 0
	for _, g := range jedec.Generations() {
		for _, f := range g.Trait().Forms {
			for _, sold := range catalogue.Market(g, f.Form) {
				for _, x := range sold.Grades {
					text := typed(sold, x, "")
					m, err := module.Parse(text)
					require.NoError(t, err, text)
					assert.Equal(t, sold.Size, m.Capacity.Or(0), text)
					assert.Equal(t, x.Grade.Rate, m.Rated.Or(0), text)
					assert.Equal(t, sold.Form, m.Form.Or(0), text)
					assert.Equal(t, sold.Kind, m.BuiltAs(), text)
					tried++
				}
			}
		}
	}
	assert.Greater(t, tried, 400)
}

package stock

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A title that names another amount first is no price's; one that mentions it behind the price is.
func TestAmountsThatAreNoPrices(t *testing.T) {
	for cell, none := range map[string]bool{"Shipping": true, "Shipping price": true, "Shipping EUR": true,
		"Versand EUR": true, "Weight": true, "price incl. shipping": false, "Preis inkl. Versand": false,
		"Price EUR": false, "EUR": false} {
		assert.Equal(t, none, readTitle(cell).noPrice(), cell)
	}
}

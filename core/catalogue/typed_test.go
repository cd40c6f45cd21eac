package catalogue_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/catalogue"
)

func TestProcessorsAsPeopleWriteThem(t *testing.T) {
	for text, family := range map[string]string{
		"i5-2400": "Sandy Bridge-S", "i5 2400": "Sandy Bridge-S", "Core i5-2400": "Sandy Bridge-S",
		"intel core i5 2400": "Sandy Bridge-S", "I5-8250u": "Kaby Lake-R (U)",
		"i7 920": "Bloomfield", "i7-920": "Bloomfield", "i5 520M": "Arrandale", "m3-7Y30": "Kaby Lake-Y",
		"Core Ultra 7 155H": "Meteor Lake-H",
		"Pentium G4560":     "Kaby Lake-S", "Pentium Gold G5400": "Coffee Lake-S", "Pentium Silver N5000": "Gemini Lake",
		"celeron n4000": "Gemini Lake", "Celeron J1900": "Bay Trail-D", "Atom N450": "Pineview mobile",
		"Xeon E3-1230 v3": "Haswell (Xeon E3-1200 v3)", "Xeon W3520": "Bloomfield (Xeon W35xx)", "N100": "Alder Lake-N",
		"Ryzen 5 3600": "Matisse", "ryzen 5 3500u": "Picasso mobile", "AMD Ryzen 7 PRO 4750U": "Renoir mobile (U, H, HS)",
		"Threadripper 1950X": "Threadripper 1000 (Whitehaven)",
		"FX 6300":            "Vishera FX (AM3+)", "FX-6300": "Vishera FX (AM3+)",
		"Phenom II X4 955": "K10 45 nm (Deneb/Heka/Callisto/Thuban/Zosma)",
		"athlon ii x2 250": "K10 45 nm (Propus/Rana/Regor/Sargas)",
		"A10-7850K":        "Kaveri and Godavari (FM2+)", "E-350": "Bobcat (Ontario/Zacate, Brazos)",
		"Athlon 3000G": "Picasso desktop",
	} {
		found := catalogue.Catalogue{}.Controllers(catalogue.Processor{Brand: text})
		if assert.NotEmpty(t, found, text) {
			assert.Equal(t, family, found[0].Family, text)
		}
	}
	for _, text := range []string{"", "i5", "Ryzen", "a fast one", "i9-99999999", "Core 2 Duo E8400", "Petrel P5-8240",
		"2400"} {
		assert.Empty(t, catalogue.Catalogue{}.Controllers(catalogue.Processor{Brand: text}), text)
	}
}

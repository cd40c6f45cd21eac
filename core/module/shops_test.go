package module_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/module"
)

// What a line is comes first: other goods are left out, in the languages of shops.
func TestOtherGoodsAreNoModules(t *testing.T) {
	for _, text := range []string{
		"Marram 14 laptop 8GB DDR4-2400 SO-DIMM, without disk, i5",
		"Notebook Marram 15, 16GB DDR4, 512GB SSD",
		"Mainboard Spindrift B7, 4x DDR4 DIMM, max. 128GB, Sockel AM4",
		"Mini-PC Gannet 4, 8GB DDR4, 256GB NVMe",
		"Tidewall NAS 4 bay, 4GB DDR4 SO-DIMM",
		"Grafikkarte Squall 8GB GDDR6",
		"Tarjeta gráfica Squall 4GB DDR3",
		"RAID controller with 1GB DDR3 cache",
		"Einbauservice Arbeitsspeicher DDR4",
		"RAM heatsink for DDR4 DIMM, blue",
		"Dissipatore per memorie DDR4",
		"microSD 64GB card",
		"USB 3.0 stick 16GB",
		"Carte mère Spindrift, 2x DDR3, 16 Go max",
		"Płyta główna Spindrift DDR4",
		"Moderkort Spindrift DDR5 4 platser",
		"Материнская плата Спиндрифт DDR4",
		"Видеокарта 4ГБ DDR5",
		"ノートパソコン 8GB DDR4",
		"主板 DDR4 双通道",
		"Anakart DDR4 4 yuva",
		"Adapter SO-DIMM to DIMM DDR4",
		"DDR4 memory tester",
		"Tablet 4GB LPDDR4 64GB",
		"Desktop PC tower i7 16GB DDR4 500GB HDD",
		"Memory fan cooler DDR4 3200",
		"Thin client 4GB DDR3 16GB flash",
		"Workstation Tern 32GB DDR4 ECC RDIMM i9-10900X",
		"Ordinateur portable 8 Go DDR4 256 Go SSD",
		"Portátil 8GB DDR4 SSD 256",
		"Ноутбук Маррам 8ГБ DDR4 SSD 256ГБ",
		"8GB DDR4 SODIMM for parts, not working", "8GB DDR4 defekt", "4 Go DDR3 hors service", "8GB DDR4 SODIMM guasto",
		"ジャンク 8GB DDR4",
		"Pamięć 8GB DDR4 uszkodzona", "Память 8ГБ DDR4 на запчасти",
	} {
		_, err := module.Parse(text)
		assert.ErrorIs(t, err, module.ErrNothing, text)
	}
}

func TestNegationsAreRead(t *testing.T) {
	for text, want := range map[string]string{
		"8GB DDR4-2400 DIMM bez ECC":                   "8 GB DDR4 @2400 DIMM ecc=false",
		"16GB DDR4-2666 DIMM ECC nein":                 "16 GB DDR4 @2666 DIMM ecc=false",
		"ECC nee 16GB DDR4-2666 DIMM":                  "16 GB DDR4 @2666 DIMM ecc=false",
		"16GB DDR4-2666 DIMM ECC, no box":              "16 GB DDR4 @2666 DIMM ecc=true",
		"16GB DDR5-4800 DIMM on-die ECC":               "16 GB DDR5 @4800 DIMM",
		"Registered: no, ECC: yes, 8GB DDR4-2400 DIMM": "8 GB DDR4 @2400 DIMM ecc=true reg=false",
		"8GB DDR4-2400 DIMM sin ECC":                   "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM sem ECC":                   "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM senza ECC":                 "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM zonder ECC":                "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM utan ECC":                  "8 GB DDR4 @2400 DIMM ecc=false",
		"8ГБ DDR4-2400 DIMM без ECC":                   "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM kein ECC":                  "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM ECC: no":                   "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM ECC: nein":                 "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM, ECC: No, new":             "8 GB DDR4 @2400 DIMM ecc=false",
		"8 Go DDR4-2400 DIMM ECC : non":                "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM non ECC unbuffered":        "8 GB DDR4 @2400 DIMM ecc=false reg=false",
		"8GB DDR4-2400 DIMM nicht-registriert":         "8 GB DDR4 @2400 DIMM reg=false",
		"8GB DDR4-2400 DIMM niet-geregistreerd":        "8 GB DDR4 @2400 DIMM reg=false",
		"8 Go DDR4-2400 DIMM non enregistrée":          "8 GB DDR4 @2400 DIMM reg=false",
		"8GB DDR4-2400 DIMM sin búfer":                 "8 GB DDR4 @2400 DIMM reg=false",
		"8GB DDR4-2400 DIMM niebuforowana":             "8 GB DDR4 @2400 DIMM reg=false",
		"8GB DDR4-2400 DIMM ongebufferd":               "8 GB DDR4 @2400 DIMM reg=false",
		"8GB DDR4-2400 DIMM un-buffered":               "8 GB DDR4 @2400 DIMM reg=false",
		"16 Go DDR4-2400 DIMM enregistrée ECC":         "16 GB DDR4 @2400 DIMM ecc=true reg=true",
		"16GB DDR4-2400 DIMM registrata ECC":           "16 GB DDR4 @2400 DIMM ecc=true reg=true",
		"16GB DDR4-2400 DIMM registrerat ECC":          "16 GB DDR4 @2400 DIMM ecc=true reg=true",
		"16GB DDR4-2400 DIMM registrada con ECC":       "16 GB DDR4 @2400 DIMM ecc=true reg=true",
		"16GB DDR4-2400 UDIMM ECC ungepuffert":         "16 GB DDR4 @2400 DIMM ecc=true reg=false",
		"16GB DDR4-2400 DIMM mit ECC, ohne Register":   "16 GB DDR4 @2400 DIMM ecc=true reg=false",
		"8GB 1Rx8 PC4-2400T-UA2-11 bez ECC":            "8 GB DDR4 @2400 DIMM 1R x8 CL17 17-17-17 ecc=false reg=false 1.2 V",
		"8GB DDR4-2400 DIMM NON-ECC NON-REG":           "8 GB DDR4 @2400 DIMM ecc=false reg=false",
		"8GB DDR4-2400 DIMM no registrada":             "8 GB DDR4 @2400 DIMM reg=false",
		"8GB DDR4-2400 DIMM não registrada":            "8 GB DDR4 @2400 DIMM reg=false",
		"8GB DDR4-2400 DIMM non registrata":            "8 GB DDR4 @2400 DIMM reg=false",
		"8GB DDR4-2400 DIMM ej registrerat":            "8 GB DDR4 @2400 DIMM reg=false",
		"8GB DDR4-2400 DIMM ECC yok":                   "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM ECC nélkül":                "8 GB DDR4 @2400 DIMM ecc=false",
		"8GB DDR4-2400 DIMM (ECC: não)":                "8 GB DDR4 @2400 DIMM ecc=false",
		"DDR4 8GB 2400 デスクトップ用 ノンECC":                  "8 GB DDR4 @2400 ecc=false",
		"台式机内存 DDR4 8GB 2400 无ECC":                     "8 GB DDR4 @2400 ecc=false",
		"8GB DDR4-2400 DIMM ohne ECC, nicht gepuffert": "8 GB DDR4 @2400 DIMM ecc=false reg=false",
	} {
		s, err := module.Parse(text)
		if assert.NoError(t, err, text) {
			assert.Equal(t, want, short(s), text)
		}
	}
}

func TestConditionsAreRead(t *testing.T) {
	for text, want := range map[string]module.Condition{
		"8GB DDR4-2400 SO-DIMM gebraucht":                 module.Used,
		"8GB DDR4-2400 SO-DIMM, Gebrauchtware":            module.Used,
		"8 Go DDR4-2400 SO-DIMM occasion":                 module.Used,
		"8 Go DDR4-2400 SO-DIMM d'occasion":               module.Used,
		"8GB DDR4-2400 SO-DIMM usado":                     module.Used,
		"8GB DDR4-2400 SO-DIMM de segunda mano":           module.Used,
		"8GB DDR4-2400 SO-DIMM usato":                     module.Used,
		"8GB DDR4-2400 SO-DIMM tweedehands":               module.Used,
		"8GB DDR4-2400 SO-DIMM używany":                   module.Used,
		"8ГБ DDR4-2400 SO-DIMM б/у":                       module.Used,
		"8ГБ DDR4-2400 SO-DIMM Б/У":                       module.Used,
		"【中古】DDR4-2400 8GB ノート用":                          module.Used,
		"二手 DDR4 8G 2400 笔记本内存":                           module.Used,
		"8GB DDR4-2400 SO-DIMM refurbished":               module.Refurbished,
		"8 Go DDR4-2400 SO-DIMM reconditionné":            module.Refurbished,
		"8GB DDR4-2400 SO-DIMM generalüberholt":           module.Refurbished,
		"8GB DDR4-2400 SO-DIMM ricondizionato":            module.Refurbished,
		"8GB DDR4-2400 SO-DIMM OEM":                       "",
		"8GB DDR4-2400 SO-DIMM bulk":                      "",
		"8GB DDR4-2400 SO-DIMM pulled from new laptops":   module.Used,
		"8GB DDR4-2400 SO-DIMM open box":                  module.Used,
		"8GB DDR4-2400 SO-DIMM Neuware":                   module.New,
		"8GB DDR4-2400 SO-DIMM neuf":                      module.New,
		"8GB DDR4-2400 SO-DIMM brand new sealed":          module.New,
		"8GB DDR4-2400 SO-DIMM like new, used":            module.Used,
		"8GB DDR4-2400 SO-DIMM B-Ware":                    module.Used,
		"8GB DDR4-2400 SO-DIMM wie neu":                   module.Used,
		"8GB DDR4-2400 SO-DIMM, as new":                   module.Used,
		"8GB DDR4-2400 SO-DIMM like-new":                  module.Used,
		"8GB DDR4-2400 SO-DIMM begagnad":                  module.Used,
		"8GB DDR4-2400 SO-DIMM použité":                   module.Used,
		"8GB DDR4-2400 SO-DIMM ikinci el":                 module.Used,
		"8GB DDR4-2400 SO-DIMM":                           "",
		"8GB DDR4-2400 SO-DIMM not used":                  module.New,
		"8GB DDR4-2400 SO-DIMM unused":                    module.New,
		"8GB DDR4-2400 SO-DIMM grade A":                   module.Refurbished,
		"8GB DDR4-2400 SO-DIMM ex lease":                  module.Used,
		"8GB DDR4-2400 SO-DIMM seminuevo":                 module.Used,
		"8GB DDR4-2400 SO-DIMM usagée":                    module.Used,
		"8GB DDR4-2400 SO-DIMM recondicionada":            module.Refurbished,
		"8GB DDR4-2400 SO-DIMM poleasingowa":              module.Used,
		"8GB DDR4-2400 SO-DIMM подержанная":               module.Used,
		"8GB DDR4-2400 SO-DIMM tested, working, as is":    module.Used,
		"8GB DDR4-2400 SO-DIMM, aus Neugerät ausgebaut":   module.Used,
		"8 Go DDR4-2400 SO-DIMM remis à neuf":             module.Refurbished,
		"8GB DDR4-2400 SO-DIMM gereviseerd":               module.Refurbished,
		"8GB DDR4-2400 SO-DIMM renoverad":                 module.Refurbished,
		"8GB DDR4-2400 SO-DIMM nowy":                      module.New,
		"8GB DDR4-2400 SO-DIMM новый":                     module.New,
		"8GB DDR4-2400 SO-DIMM 中古品":                       module.Used,
		"8GB DDR4-2400 SO-DIMM 拆机":                        module.Used,
		"8GB DDR4-2400 SO-DIMM nuevo":                     module.New,
		"8GB DDR4-2400 SO-DIMM nový":                      module.New,
		"8GB DDR4-2400 SO-DIMM sıfır":                     module.New,
		"8GB DDR4-2400 SO-DIMM ny":                        module.New,
		"8GB DDR4-2400 SO-DIMM 新品":                        module.New,
		"8GB DDR4-2400 SO-DIMM used, 12 months guarantee": module.Used,
	} {
		s, err := module.Parse(text)
		if assert.NoError(t, err, text) {
			assert.Equal(t, want, s.Condition, text)
		}
	}
}

func TestRatesWhereverTheyStand(t *testing.T) {
	for text, want := range map[string]string{
		"DDR4 4GB 2400 DIMM":                        "4 GB DDR4 @2400 DIMM",
		"8GB DDR4-3200 (1600 MHz) SODIMM":           "8 GB DDR4 @3200 SO-DIMM",
		"2GB PC2-6400 400MHz SODIMM":                "2 GB DDR2 @800 SO-DIMM",
		"DDR4-2400 1200MHz 8GB":                     "8 GB DDR4 @2400",
		"8GB DDR4 SODIMM 2666":                      "8 GB DDR4 @2666 SO-DIMM",
		"8GB SO-DIMM PC4 21300":                     "8 GB DDR4 @2666 SO-DIMM",
		"4GB SO-DIMM PC3 12800":                     "4 GB DDR3 @1600 SO-DIMM",
		"8GB DDR4 2400T SODIMM":                     "8 GB DDR4 @2400 SO-DIMM",
		"8GB 2400T SODIMM":                          "8 GB DDR4 @2400 SO-DIMM CL17",
		"8GB DDR4 2666V SODIMM":                     "8 GB DDR4 @2666 SO-DIMM",
		"16GB 3200AA SO-DIMM":                       "16 GB DDR4 @3200 SO-DIMM CL22",
		"8GB DDR4-2666V SO-DIMM":                    "8 GB DDR4 @2666 SO-DIMM CL19",
		"16GB DDR5-5600B DIMM":                      "16 GB DDR5 @5600 DIMM CL46",
		"4GB DDR3 1600 MHz (800 MHz clock) SODIMM":  "4 GB DDR3 @1600 SO-DIMM",
		"4GB PC12800 DDR3 SODIMM":                   "4 GB DDR3 @1600 SO-DIMM",
		"2GB DDR2 PC6400 SODIMM":                    "2 GB DDR2 @800 SO-DIMM",
		"8GB DDR 4 2400 MHz DIMM":                   "8 GB DDR4 @2400 DIMM",
		"8GB DDR4-2800 DIMM CL16":                   "8 GB DDR4 DIMM profile 2800 CL16",
		"16GB DDR4-3000 C15 DIMM":                   "16 GB DDR4 DIMM profile 3000 CL15",
		"16GB DDR4-4133 DIMM CL19":                  "16 GB DDR4 DIMM profile 4133 CL19",
		"16GB DDR4-3200 low profile DIMM":           "16 GB DDR4 @3200 DIMM",
		"16GB DDR4-3200 low-profile DIMM":           "16 GB DDR4 @3200 DIMM",
		"16GB DDR5 5600 SODIMM":                     "16 GB DDR5 @5600 SO-DIMM",
		"16GB SODIMM DDR5 PC5 44800":                "16 GB DDR5 @5600 SO-DIMM",
		"4GB PC3L 12800S":                           "4 GB DDR3 @1600 SO-DIMM ecc=false reg=false 1.35 V 1.5 V",
		"DDR3 1066 2GB SODIMM":                      "2 GB DDR3 @1066 SO-DIMM",
		"2GB SODIMM DDR3 8500":                      "2 GB DDR3 @1066 SO-DIMM",
		"1GB DDR2 5300 SODIMM":                      "1 GB DDR2 @667 SO-DIMM",
		"512MB PC133 SDRAM SODIMM":                  "512 MB SDR @133 SO-DIMM",
		"8GB SDRAM 2666V SODIMM":                    "8 GB DDR4 @2666 SO-DIMM CL19",
		"8GB DDR4 2400 SODIMM for mini pc":          "8 GB DDR4 @2400 SO-DIMM",
		"RAM for Quay NAS, 8GB DDR4 SODIMM":         "8 GB DDR4 SO-DIMM",
		"8GB DDR4 (1Rx8),2400MHz SO-DIMM":           "8 GB DDR4 @2400 SO-DIMM 1R x8",
		"16 gig_ddr 4_2400_sodimm":                  "16 GB DDR4 @2400 SO-DIMM",
		"512MB PC3200 DDR DIMM":                     "512 MB DDR @400 DIMM",
		"1GB DDR PC3200 SODIMM":                     "1 GB DDR @400 SO-DIMM",
		"8GB DDR4 2400MT/s C17":                     "8 GB DDR4 @2400 CL17",
		"8GB DDR4-2400 CL 17":                       "8 GB DDR4 @2400 CL17",
		"8GB DDR4-2400 CAS 17":                      "8 GB DDR4 @2400 CL17",
		"8GB DDR4-2400 17-17-17":                    "8 GB DDR4 @2400 CL17 17-17-17",
		"8GB DDR4 PC4-2666V-S":                      "8 GB DDR4 @2666 SO-DIMM CL19 ecc=false reg=false",
		"8GB DDR4 3200Mhz 22-22-22 1.2V DIMM":       "8 GB DDR4 @3200 DIMM CL22 22-22-22 1.2 V",
		"16GB DDR4 3600 CL16 DIMM XMP":              "16 GB DDR4 DIMM profile 3600 CL16",
		"32GB (2x16GB) DDR5 6400 CL32 XMP 3.0 EXPO": "2× 16 GB DDR5 profile 6400 CL32",
	} {
		s, err := module.Parse(text)
		if assert.NoError(t, err, text) {
			assert.Equal(t, want, short(s), text)
		}
	}
}

// A label with words around it counts as the label does.
// Kits beyond the grades are sold by ratings that no standard has.
func TestRatingsOfProfileRates(t *testing.T) {
	for text, rate := range map[string]jedec.Rate{
		"DDR4-3600 (PC4-28800) 16GB CL18": 3600, "16GB DDR4 PC4-24000 CL15": 3000, "8GB DDR3-2400 PC3-19200 CL11": 2400,
		"2x8GB PC4-27700 DIMM": 3466,
		"PC4-33000 8GB CL19":   4133, "16GB DDR4-3200 PC4-25600": 3200,
	} {
		s, err := module.Parse(text)
		if !assert.NoError(t, err, text) {
			continue
		}
		got := s.Rated.Or(0)
		if len(s.Profiles) > 0 {
			got = s.Profiles[0].Rate
		}
		assert.Equal(t, rate, got, text)
	}
	for _, text := range []string{"16GB DDR4 PC4-27500", "16GB DDR4-3000 PC4-28800", "8GB DDR4 PC3-28800"} {
		_, err := module.Parse(text)
		assert.Error(t, err, text)
	}
	s, err := module.Parse("8GB single rank DDR4 2666 x8")
	require.NoError(t, err)
	assert.Equal(t, jedec.Rate(2666), s.Rated.Or(0), "a width behind a rate makes no kit")
	s, err = module.Parse("16 Gigabyte DDR4 3200 UDIMM")
	require.NoError(t, err)
	assert.Equal(t, 16*jedec.GiB, s.Capacity.Or(0))
}

func TestALabelAmongWords(t *testing.T) {
	for _, label := range []string{
		"8GB 1Rx8 PC4-2400T-SA1-11", "16GB 2Rx8 PC4-2400T-EE1-11", "16GB 2Rx4 PC3L-12800R-11-13-E2",
		"4GB 2Rx8 PC3L-12800S-11-13-F3",
		"16GB 1Rx8 PC5-4800B-SA0-1010-XT",
	} {
		want, err := module.Parse(label)
		require.NoError(t, err, label)
		for _, around := range []string{"Marram %", "% notebook RAM", "Marram % used, tested", "RAM % für Laptop", "(%)",
			"Mémoire % occasion"} {
			text := ""
			for _, c := range around {
				if c == '%' {
					text += label
				} else {
					text += string(c)
				}
			}
			s, err := module.Parse(text)
			if assert.NoError(t, err, text) {
				assert.Equal(t, short(want), short(s), text)
			}
		}
	}
}

func TestKitsAreCounted(t *testing.T) {
	for text, want := range map[string]string{
		"64GB Kit (16GB x 4) DDR4-3200":                  "4× 16 GB DDR4 @3200",
		"DDR4-3200 16GB (2× 8GB)":                        "2× 8 GB DDR4 @3200",
		"6GB (3x2GB) DDR3-1333":                          "3× 2 GB DDR3 @1333",
		"DDR4-3200 16GB*2":                               "2× 16 GB DDR4 @3200",
		"8+8GB DDR4-3200":                                "2× 8 GB DDR4 @3200",
		"8GB+8GB DDR4-3200":                              "2× 8 GB DDR4 @3200",
		"DDR4-3200 16 GB x 2":                            "2× 16 GB DDR4 @3200",
		"16 GB x2 DDR4-3200":                             "2× 16 GB DDR4 @3200",
		"DDR4-3200 8GB 2枚組":                              "2× 8 GB DDR4 @3200",
		"DDR4-3200 16GB (8GB×2枚)":                        "2× 8 GB DDR4 @3200",
		"Lot de 4 barrettes de 4 Go DDR3-1333":           "4× 4 GB DDR3 @1333",
		"Pack de 2 8GB DDR4-2400":                        "2× 8 GB DDR4 @2400",
		"4 Stück 8 GB DDR4-2400":                         "4× 8 GB DDR4 @2400",
		"2 Riegel à 16 GB DDR4-3200":                     "2× 16 GB DDR4 @3200",
		"Pair of 8GB DDR4-2400 (16GB total)":             "2× 8 GB DDR4 @2400",
		"Two 4GB sticks = 8GB DDR3-1600":                 "2× 4 GB DDR3 @1600",
		"Kit of 4 8GB DDR4-2400":                         "4× 8 GB DDR4 @2400",
		"8GB DDR4-2400 1Gx8":                             "8 GB DDR4 @2400",
		"16GB DDR4-2400 2Rx4 4Gx4":                       "16 GB DDR4 @2400 2R x4",
		"8GB DDR4-2400 1G x 8 SODIMM":                    "8 GB DDR4 @2400 SO-DIMM",
		"2 szt. 8GB DDR4-2400":                           "2× 8 GB DDR4 @2400",
		"комплект 2x8ГБ DDR4-3200":                       "2× 8 GB DDR4 @3200",
		"16GB Kit (8GB x2) DDR3L-1600 SODIMM":            "2× 8 GB DDR3 @1600 SO-DIMM 1.35 V 1.5 V",
		"Kit 2x4GB DDR2-800":                             "2× 4 GB DDR2 @800",
		"DDR4-3200 32GB Kit":                             "DDR4 @3200",
		"2 x 8 Go DDR4-2666":                             "2× 8 GB DDR4 @2666",
		"Zestaw 2 x 8 GB DDR4-2666":                      "2× 8 GB DDR4 @2666",
		"Dual kit 16GB 2x8GB DDR4-3200":                  "2× 8 GB DDR4 @3200",
		"4 pcs 8GB DDR4-2400":                            "4× 8 GB DDR4 @2400",
		"Set of two 16GB DDR4-3200":                      "2× 16 GB DDR4 @3200",
		"2 módulos de 8GB DDR4-2400":                     "2× 8 GB DDR4 @2400",
		"2 moduli da 8GB DDR4-2400":                      "2× 8 GB DDR4 @2400",
		"16GB total, 2 sticks of 8GB DDR4-2400":          "2× 8 GB DDR4 @2400",
		"套装 16GB (8GBx2) DDR4 3200":                      "2× 8 GB DDR4 @3200",
		"2 adet 8GB DDR4-2400":                           "2× 8 GB DDR4 @2400",
		"2 stuks 8GB DDR4-2400":                          "2× 8 GB DDR4 @2400",
		"2 st 8GB DDR4-2400":                             "2× 8 GB DDR4 @2400",
		"coppia 8GB DDR4-2400":                           "2× 8 GB DDR4 @2400",
		"48GB (2 x 24GB) DDR5-5600 SODIMM":               "2× 24 GB DDR5 @5600 SO-DIMM",
		"16GB DDR4-2400 (1x16GB)":                        "1× 16 GB DDR4 @2400",
		"1 x 8GB DDR4-2400":                              "1× 8 GB DDR4 @2400",
		"Sada 2x 8GB DDR4-3200":                          "2× 8 GB DDR4 @3200",
		"DDR4-3200 2x8 GB kit, 16 GB gesamt":             "2× 8 GB DDR4 @3200",
		"DDR3 kit triple channel 12GB 3x4GB 1600":        "3× 4 GB DDR3 @1600",
		"Dual channel kit 2 x 4096 MB DDR3-1333":         "2× 4 GB DDR3 @1333",
		"4x8GB Quad kit DDR4-3200 UDIMM":                 "4× 8 GB DDR4 @3200 DIMM reg=false",
		"8 GB (2 pieces of 4 GB) DDR3-1600":              "2× 4 GB DDR3 @1600",
		"Lot 10 barrettes 4 Go DDR3-1600":                "10× 4 GB DDR3 @1600",
		"DDR4 16 GB (2 × 8 GB) 3200 MHz, kit von 2":      "2× 8 GB DDR4 @3200",
		"Paar 8 GB DDR4-2400":                            "2× 8 GB DDR4 @2400",
		"Tiger 8GB(4GBx2) DDR3 1600 desktop":             "2× 4 GB DDR3 @1600",
		"2 штуки по 8 ГБ DDR4-2400":                      "2× 8 GB DDR4 @2400",
		"DDR4-2400 8GB x2":                               "2× 8 GB DDR4 @2400",
		"DDR4-2400 8GB x 1":                              "1× 8 GB DDR4 @2400",
		"DDR4 2400 16GB (16GBx1)":                        "1× 16 GB DDR4 @2400",
		"DDR4-2400 8GB, minimum order 2 pieces":          "8 GB DDR4 @2400",
		"8GB DDR4-2400 512Mx8":                           "8 GB DDR4 @2400",
		"8GB DDR4-2400 1024Mx64":                         "8 GB DDR4 @2400",
		"16GB 2Rx8 DDR4-2400 (1Gx8)*16":                  "16 GB DDR4 @2400 2R x8",
		"kit mémoire 2 barrettes 8 Go chacune DDR4-2400": "2× 8 GB DDR4 @2400",
	} {
		s, err := module.Parse(text)
		if assert.NoError(t, err, text) {
			assert.Equal(t, want, short(s), text)
		}
	}
}

func TestGluedWordsAndAlphabets(t *testing.T) {
	for text, want := range map[string]string{
		"DDR4-RAM 8GB 2400":                  "8 GB DDR4 @2400",
		"DDR2-geheugen 2GB 800MHz":           "2 GB DDR2 @800",
		"8GB/DDR4/3200":                      "8 GB DDR4 @3200",
		"SODIMM,DDR4,8GB":                    "8 GB DDR4 SO-DIMM",
		"SO_DIMM 8GB DDR4 2666":              "8 GB DDR4 @2666 SO-DIMM",
		"S.O.DIMM 8GB DDR4 2666":             "8 GB DDR4 @2666 SO-DIMM",
		"SODIMM-260 8GB DDR4":                "8 GB DDR4 SO-DIMM",
		"PC-Speicher 8GB DDR4-2400":          "8 GB DDR4 @2400",
		"8G DDR4 2666":                       "8 GB DDR4 @2666",
		"32G DDR4 SODIMM":                    "32 GB DDR4 SO-DIMM",
		"8ГБ DDR4 2666МГц":                   "8 GB DDR4 @2666",
		"8 Гб DDR4 2666 МГц":                 "8 GB DDR4 @2666",
		"512МБ DDR2 667":                     "512 MB DDR2 @667",
		"8 Go DDR4 2666 MHz":                 "8 GB DDR4 @2666",
		"512 Mo DDR2 667 MHz":                "512 MB DDR2 @667",
		"８ＧＢ ＤＤＲ４ ２６６６":                      "8 GB DDR4 @2666",
		"DDR4_8GB_2666_SODIMM":               "8 GB DDR4 @2666 SO-DIMM",
		"DDR4.8GB.2666.SODIMM":               "8 GB DDR4 @2666 SO-DIMM",
		"8GB-DDR4-2666-SODIMM":               "8 GB DDR4 @2666 SO-DIMM",
		"DDR4-SODIMM 8GB 2666":               "8 GB DDR4 @2666 SO-DIMM",
		"DDR4/SODIMM/8GB/2666MHz":            "8 GB DDR4 @2666 SO-DIMM",
		"RAM-Riegel 8GB DDR4-2666":           "8 GB DDR4 @2666",
		"Speicherriegel DDR4-2666 8 GB":      "8 GB DDR4 @2666",
		"память DDR4 8гб 2666мгц sodimm":     "8 GB DDR4 @2666 SO-DIMM",
		"DDR4内存条8GB2666":                     "8 GB DDR4 @2666",
		"8GBDDR4-2666":                       "8 GB DDR4 @2666",
		"8192MB DDR4-2666":                   "8 GB DDR4 @2666",
		"8.192 MB DDR4-2666":                 "8 GB DDR4 @2666",
		"8,0 GB DDR4-2666":                   "8 GB DDR4 @2666",
		"8 gigas DDR4 2666":                  "8 GB DDR4 @2666",
		"DDR4-2666/8GB":                      "8 GB DDR4 @2666",
		"DDR4–2666 8 GB":                     "8 GB DDR4 @2666",
		"SO–DIMM 8 GB DDR4–2666":             "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260 pines":            "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260 polig":            "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260 broches":          "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260-pins":             "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260pin":               "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260 контактов":        "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260 pinów":            "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260 kolíků":           "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260 contatti":         "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260 contactos":        "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260ピン":                "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260针":                 "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260 stift":            "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR4-2666 260 pinli":            "8 GB DDR4 @2666 SO-DIMM",
		"8GB DDR3-1600 1.35V/1.5V SODIMM":    "8 GB DDR3 @1600 SO-DIMM 1.35 V 1.5 V",
		"8GB DDR3-1600 1,35 V SODIMM":        "8 GB DDR3 @1600 SO-DIMM 1.35 V 1.5 V",
		"8GB DDR4-3200 16-18-18-36 C16 DIMM": "8 GB DDR4 DIMM profile 3200 CL16",
	} {
		s, err := module.Parse(text)
		if assert.NoError(t, err, text) {
			assert.Equal(t, want, short(s), text)
		}
	}
}

// The words for a kind of machine lean to a form, and never beat a word.
func TestFormByHabit(t *testing.T) {
	leaning := func(s module.Module) string {
		for _, h := range s.Leaning {
			if h.Fact == "form" {
				return h.Value
			}
		}
		return ""
	}
	for text, want := range map[string]string{
		"8GB DDR4-2666 laptop memory":              "SO-DIMM",
		"8GB DDR4-2666 Notebook Arbeitsspeicher":   "SO-DIMM",
		"8 Go DDR4-2666 pour PC portable":          "SO-DIMM",
		"8GB DDR4-2666 para portátil":              "SO-DIMM",
		"8GB DDR4-2666 per portatile":              "SO-DIMM",
		"8GB DDR4-2666 do laptopa":                 "SO-DIMM",
		"8ГБ DDR4-2666 для ноутбука":               "SO-DIMM",
		"DDR4-2666 8GB ノート用":                       "SO-DIMM",
		"8GB DDR4-2666 desktop memory":             "DIMM",
		"8GB DDR4-2666 para sobremesa":             "DIMM",
		"8GB DDR4-2666 do komputera stacjonarnego": "DIMM",
		"8GB DDR4-2666 voor laptop":                "SO-DIMM",
		"8GB DDR4-2666 till bärbar dator":          "SO-DIMM",
		"8GB DDR4-2666 masaüstü":                   "DIMM",
		"8GB DDR4-2666 pro notebook":               "SO-DIMM",
		"8ГБ DDR4-2666 для компьютера":             "",
		"8GB DDR4-2666":                            "",
	} {
		s, err := module.Parse(text)
		if assert.NoError(t, err, text) {
			assert.Equal(t, want, leaning(s), text)
			assert.False(t, s.Form.Known(), text)
		}
	}
	s, err := module.Parse("8GB DDR4-2666 DIMM for laptop docking")
	if err == nil {
		f, _ := s.Form.Get()
		assert.Equal(t, "DIMM", f.String())
	}
}

// A message quotes the two words that clash; one that can't be by itself is quoted once.
func TestMessagesQuoteWhatClashes(t *testing.T) {
	for text, says := range map[string]string{
		"DDR4 SO-DIMM 204-pin 8GB": `"DDR4" against "204-pin": modules with 204 contacts are DDR3; a DDR4 SO-DIMM has 260`,
		"8GB 999-pin":              `"999-pin" can't be: no memory module has that many contacts`,
		"DDR2 8GB 240-pin SO-DIMM": `"SO-DIMM" against "240-pin": modules with 240 contacts are DIMMs`,
		"DDR4 11GB":                `"11GB" can't be: no module of 11 GB is made`,
	} {
		_, err := module.Parse(text)
		require.ErrorIs(t, err, module.ErrContradiction, text)
		assert.Contains(t, err.Error(), says, text)
		assert.NotContains(t, err.Error(), "[", text)
	}
}

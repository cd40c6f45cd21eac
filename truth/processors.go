package truth

import "epitome/core/jedec"

// A Processor is a real one whose memory facts are certain.
type Processor struct {
	Brand                   string
	Family, Model, Stepping int
	Laptop                  bool // what it is built into
	Generation              jedec.Generation
	Channels                int
	Sockets                 int        // a channel that boards have at the most, as far as its rate is certain
	Die                     int        // the densest it takes, Gbit
	Maximum                 int        // published, GB
	Rate                    jedec.Rate // official highest, one module a channel
	Filled                  jedec.Rate // with two modules a channel; 0 for the same
	MilliVolts              int
	Kind                    Kind // of the modules that its boards are filled with
}

// processors are told by the makers' public pages. Where the rate of two modules a channel is not certain, boards
// have one socket a channel.
var processors = []Processor{
	{"Intel(R) Core(TM) i5-2400 CPU @ 3.10GHz", 6, 42, 7, false, jedec.DDR3, 2, 2, 4, 32, 1333, 0, 1500, Plain},
	{"Intel(R) Core(TM) i5-3470 CPU @ 3.20GHz", 6, 58, 9, false, jedec.DDR3, 2, 2, 4, 32, 1600, 0, 1500, Plain},
	{"Intel(R) Core(TM) i5-4590 CPU @ 3.30GHz", 6, 60, 3, false, jedec.DDR3, 2, 2, 4, 32, 1600, 0, 1500, Plain},
	{"Intel(R) Core(TM) i5-6500 CPU @ 3.20GHz", 6, 94, 3, false, jedec.DDR4, 2, 2, 8, 64, 2133, 0, 1200, Plain},
	{"Intel(R) Core(TM) i5-7500 CPU @ 3.40GHz", 6, 158, 9, false, jedec.DDR4, 2, 2, 8, 64, 2400, 0, 1200, Plain},
	{"Intel(R) Core(TM) i5-10400 CPU @ 2.90GHz", 6, 165, 3, false, jedec.DDR4, 2, 2, 16, 128, 2666, 0, 1200, Plain},
	{"AMD Ryzen 5 5600G with Radeon Graphics", 25, 80, 0, false, jedec.DDR4, 2, 1, 16, 128, 3200, 0, 1200, Plain},
	{"13th Gen Intel(R) Core(TM) i7-13700", 6, 183, 1, false, jedec.DDR5, 2, 1, 16, 128, 5600, 0, 1100, Plain},
	{"AMD Ryzen 5 7600 6-Core Processor", 25, 97, 2, false, jedec.DDR5, 2, 2, 16, 128, 5200, 3600, 1100, Plain},
	{"Intel(R) Xeon(R) CPU E3-1225 v5 @ 3.30GHz", 6, 94, 3, false, jedec.DDR4, 2, 2, 8, 64, 2133, 0, 1200, Checked},
	{"Intel(R) Xeon(R) CPU E5-2620 v3 @ 2.40GHz", 6, 63, 2, false, jedec.DDR4, 4, 1, 8, 768, 1866, 0, 1200, Registered},
	{"Intel(R) Core(TM) i5-2520M CPU @ 2.50GHz", 6, 42, 7, true, jedec.DDR3, 2, 1, 4, 16, 1333, 0, 1500, Plain},
	{"Intel(R) Core(TM) i5-3320M CPU @ 2.60GHz", 6, 58, 9, true, jedec.DDR3, 2, 1, 4, 16, 1600, 0, 1500, Plain},
	{"Intel(R) Core(TM) i5-4300U CPU @ 1.90GHz", 6, 69, 1, true, jedec.DDR3, 2, 1, 4, 16, 1600, 0, 1350, Plain},
	{"Intel(R) Core(TM) i5-5300U CPU @ 2.30GHz", 6, 61, 4, true, jedec.DDR3, 2, 1, 4, 16, 1600, 0, 1350, Plain},
	{"Intel(R) Core(TM) i5-6200U CPU @ 2.30GHz", 6, 78, 3, true, jedec.DDR4, 2, 1, 8, 32, 2133, 0, 1200, Plain},
	{"Intel(R) Core(TM) i5-8250U CPU @ 1.60GHz", 6, 142, 10, true, jedec.DDR4, 2, 1, 8, 32, 2400, 0, 1200, Plain},
	{"Intel(R) Core(TM) i5-10210U CPU @ 1.60GHz", 6, 142, 12, true, jedec.DDR4, 2, 1, 16, 64, 2666, 0, 1200, Plain},
	{"11th Gen Intel(R) Core(TM) i5-1135G7 @ 2.40GHz", 6, 140, 1, true, jedec.DDR4, 2, 1, 16, 64, 3200, 0, 1200, Plain},
	{"AMD Ryzen 5 3500U with Radeon Vega Mobile Gfx", 23, 24, 1, true, jedec.DDR4, 2, 1, 8, 32, 2400, 0, 1200, Plain},
	{"AMD Ryzen 5 5500U with Radeon Graphics", 23, 104, 1, true, jedec.DDR4, 2, 1, 16, 64, 3200, 0, 1200, Plain},
	{"AMD Ryzen 5 6600H with Radeon Graphics", 25, 68, 1, true, jedec.DDR5, 2, 1, 16, 64, 4800, 0, 1100, Plain},
}

// rates are those that modules are sold for, by generation; a later one runs at an earlier one's.
var rates = map[jedec.Generation][]jedec.Rate{
	jedec.DDR3: {1066, 1333, 1600},
	jedec.DDR4: {2133, 2400, 2666, 3200},
	jedec.DDR5: {4800, 5600},
}

// builds are the modules that exist: ranks, chip width, die in Gbit.
var builds = map[jedec.Generation][][3]int{
	jedec.DDR3: {{1, 8, 1}, {2, 8, 1}, {1, 8, 2}, {2, 8, 2}, {1, 8, 4}, {2, 8, 4}},
	jedec.DDR4: {{1, 8, 4}, {2, 8, 4}, {1, 16, 8}, {1, 8, 8}, {2, 8, 8}, {1, 16, 16}, {1, 8, 16}, {2, 8, 16}},
	jedec.DDR5: {{1, 16, 16}, {1, 8, 16}, {2, 8, 16}},
}

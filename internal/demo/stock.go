package demo

// PriceList is the harbour's supplier's list, as such lists are: a title above
// the header, decimal commas, kits, lines that say too little.
const PriceList = "Harbour Parts & Chandlery;;;;;;\n" +
	"Price list of week 47, all prices net;;;;;;\n" +
	";;;;;;\n" +
	"Article No;Description;Price EUR;Currency;On hand;Pieces per kit;Condition\n" +
	"HP-1001;8GB 1Rx8 PC4-2400T-SA1-11;21,40;EUR;14;1;new\n" +
	"HP-1002;8GB 1Rx8 PC4-3200AA-SA2-11;19,90;EUR;40;1;new\n" +
	"HP-1003;16GB 2Rx8 PC4-2666V-SE1-11;38,50;EUR;9;1;new\n" +
	"HP-1004;16GB 1Rx8 PC4-3200AA-SA2-11;34,90;EUR;22;1;new\n" +
	"HP-1005;2x8GB DDR4-2400 SO-DIMM 1Rx8 CL17;40,00;EUR;6;2;new\n" +
	"HP-1006;4GB 1Rx8 PC4-2400T-SA1-11;11,20;EUR;3;1;used\n" +
	"HP-1010;4GB 2Rx8 PC3-10600U-9-10-B1;9,90;EUR;12;1;used\n" +
	"HP-1011;2GB 1Rx8 PC3-10600U-9-10-A1;5,50;EUR;30;1;used\n" +
	"HP-1012;8GB 2Rx8 PC3L-12800U-11-13-B1;17,80;EUR;5;1;new\n" +
	"HP-1020;16GB 1Rx8 PC4-3200AA-UA2-11;33,00;EUR;18;1;new\n" +
	"HP-1021;32GB 2Rx8 PC4-3200AA-UB1-11;61,90;EUR;8;1;new\n" +
	"HP-1022;2x32GB DDR4-3200 UDIMM 2Rx8 CL22 non-ECC unbuffered;119,00;EUR;2;2;new\n" +
	"HP-1023;16GB 2Rx8 PC4-2666V-UB1-11;29,50;EUR;4;1;used\n" +
	"HP-1024;16GB 2Rx4 PC4-2400T-RA1-11;18,00;EUR;25;1;used\n" +
	"HP-1030;16GB 1Rx8 PC5-4800B-SA0-1010-XT;47,00;EUR;7;1;new\n" +
	"HP-1040;Memory for laptops, ask;25,00;EUR;1;1;new\n" +
	"HP-1041;16GB kit DDR4 SO-DIMM;39,00;EUR;5;2;new\n" +
	"HP-1042;8GB 1Rx8 PC4-2450T-SA1-11;20,00;EUR;2;1;new\n" +
	"HP-1043;8GB 1Rx8 PC4-2400T-SA1-11;;EUR;2;1;new\n" +
	"HP-1012;8GB 2Rx8 PC3L-12800U-11-13-B1;16,20;EUR;2;1;new\n"

// Drawer is what lies in the workshop's drawer, as rounds reads it.
const Drawer = `# The workshop's drawer, a stick a line.
8GB 1Rx8 PC4-2400T-SA1-11
2 x 2GB 1Rx8 PC3-10600U-9-10-A1   # out of the chandlery's last desktop
4GB 1Rx8 PC4-2133P-SA0-10
`

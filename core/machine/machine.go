package machine

import "epitome/core/jedec"

// A Machine is all findings about one computer.
type Machine struct {
	Kind      Finding[Kind]
	Maker     Finding[string]
	Model     Finding[string]
	Board     Finding[string]
	Firmware  Finding[string]
	Processor Finding[string]
	Chipset   Finding[string]
	OS        Finding[string]
	Totals    Totals
	Places    []Place
	Conflicts []Conflict
	Open      []Open
}

// A Kind is what a machine is to the person who opens it.
type Kind string

// The kinds.
const (
	Laptop   Kind = "laptop"
	Desktop  Kind = "desktop"
	AllInOne Kind = "all-in-one"
	Mini     Kind = "mini"
	Server   Kind = "server"
	Other    Kind = "other"
)

// Totals are the sums over a machine's places and what limits them.
type Totals struct {
	Installed     Finding[jedec.Capacity] // in all places
	Visible       Finding[jedec.Capacity] // to the operating system
	Sockets       Finding[int]
	SocketsFree   Finding[int]
	Soldered      Finding[jedec.Capacity]
	StatedMaximum Finding[jedec.Capacity] // what firmware or a manual says may be fitted, in the reading that agrees with the rest
	Reachable     Finding[jedec.Capacity] // what soldered memory and sockets can come to within it
}

// A Place is anywhere memory sits: a socket, or a bank of chips on the board.
// Only sockets are slots.
type Place struct {
	Name           string // the maker's name for it, made unique within the machine
	FirmwareHandle string // "0x000B", empty where no firmware table names the place
	EEPROMAddress  string // "0x51", empty where none is known
	Channel        Finding[string]
	Attach         Finding[Attach]
	Filled         Finding[bool]
	Form           Finding[jedec.Form] // what fits the place, known for empty ones too
	Module         *Module             // nil where the place is empty or that is not known
}

// Attach is how memory is joined to the board at a place.
type Attach string

// The two ways.
const (
	Socket   Attach = "socket"
	Soldered Attach = "soldered"
)

// A Module is what sits in a place: a module in a socket, or a bank of chips.
type Module struct {
	Generation  Finding[jedec.Generation]
	Form        Finding[jedec.Form]
	Capacity    Finding[jedec.Capacity]
	Rated       Finding[jedec.Rate] // the standard rate the module is good for
	Running     Finding[jedec.Rate] // the rate it runs at now
	Ranks       Finding[int]
	DeviceWidth Finding[int] // data lines per chip: 4, 8, 16
	ECC         Finding[bool]
	Registered  Finding[bool]
	MilliVolts  Finding[int]
	Maker       Finding[string]
	Part        Finding[string]
	Serial      Finding[string]
}

// A Conflict is a contradiction that the technician ought to see.
type Conflict struct {
	About   string
	Says    string
	Sources []string
}

// An Open is a fact that is not settled, and the one look that would settle it.
type Open struct {
	About   string
	Settles string
}

package smbios

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// Structures of machines before version 2.1, where types 16 and 17 do not
// exist yet: the controller and its modules (DSP0134 clauses 7.6 and 7.7).

// A Controller is structure type 5.
type Controller struct {
	Handle  Handle
	PerSlot maybe.Value[jedec.Capacity] // largest module that a slot takes
	Slots   []Handle                    // the type 6 structures of its slots
}

// A Module is structure type 6: a slot of an old machine and what is in it.
type Module struct {
	Handle  Handle
	Socket  string
	Filled  maybe.Value[bool]
	Size    maybe.Value[jedec.Capacity]
	Types   uint16           // bit field of clause 7.7.1
	SpeedNS maybe.Value[int] // access time
	Failed  bool             // installed, and not enabled or with errors
}

const (
	controllerPerSlot = 0x08 // byte n: 2^n MB
	controllerSlots   = 0x0E // byte: number of slots
	controllerHandles = 0x0F // words

	moduleSocket    = 0x04 // string
	moduleSpeed     = 0x06 // byte, ns
	moduleTypes     = 0x07 // word
	moduleInstalled = 0x09 // byte
	moduleError     = 0x0B // byte

	moduleSizeUnknown   = 0x7D // not determinable
	moduleSizeDisabled  = 0x7E // installed, no memory enabled
	moduleSizeNone      = 0x7F // not installed
	moduleTypeSIMM      = 1 << 7
	moduleTypeDIMM      = 1 << 8
	moduleTypeSDRAM     = 1 << 10
	moduleErrorsPresent = 0x03 // uncorrectable, correctable
)

func decodeController(s Structure) Controller {
	c := Controller{Handle: s.Handle}
	if n, ok := s.area.Byte(controllerPerSlot); ok && n < 20 {
		c.PerSlot = maybe.Just(jedec.MiB << n)
	}
	slots, _ := s.area.Byte(controllerSlots)
	for i := range int(slots) {
		h, ok := s.area.Word(controllerHandles + 2*i)
		if !ok {
			break
		}
		c.Slots = append(c.Slots, Handle(h))
	}
	return c
}

func decodeModule(s Structure) Module {
	m := Module{Handle: s.Handle, Socket: s.line(moduleSocket)}
	m.Types, _ = s.area.Word(moduleTypes)
	if ns, ok := s.area.Byte(moduleSpeed); ok && ns != 0 {
		m.SpeedNS = maybe.Just(int(ns))
	}
	if status, ok := s.area.Byte(moduleError); ok {
		m.Failed = status&moduleErrorsPresent != 0
	}
	installed, ok := s.area.Byte(moduleInstalled)
	if !ok {
		return m
	}
	switch n := installed & 0x7F; n { // bit 7: two banks
	case moduleSizeNone:
		m.Filled = maybe.Just(false)
	case moduleSizeUnknown:
		m.Filled = maybe.Just(true)
	case moduleSizeDisabled:
		m.Filled, m.Failed = maybe.Just(true), true
	default:
		m.Filled = maybe.Just(true)
		if n < 20 {
			m.Size = maybe.Just(jedec.MiB << n)
		}
	}
	return m
}

// device brings an old module to the form of a memory device, so that one
// reader serves both.
func (m Module) device() Device {
	d := Device{Handle: m.Handle, Array: 0xFFFF, Locator: m.Socket, Filled: m.Filled, Size: m.Size, FormCode: 0x02,
		MemoryType: 0x02, Failed: m.Failed}
	switch {
	case m.Types&moduleTypeDIMM != 0:
		d.FormCode = 0x09
	case m.Types&moduleTypeSIMM != 0:
		d.FormCode = 0x03
	}
	if m.Types&moduleTypeSDRAM != 0 {
		d.MemoryType = 0x0F
	}
	return d
}

// OldMaximum is what the controllers of an old machine take: the largest
// module times the slots of each. It is unknown where one does not say.
func (v Inventory) OldMaximum() maybe.Value[jedec.Capacity] {
	var sum jedec.Capacity
	for _, c := range v.Controllers {
		each, ok := c.PerSlot.Get()
		if !ok || len(c.Slots) == 0 {
			return maybe.None[jedec.Capacity]()
		}
		sum += each * jedec.Capacity(len(c.Slots))
	}
	return maybe.If(sum, sum > 0)
}

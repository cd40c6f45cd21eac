package smbios

import "epitome/core/maybe"

// A Processor is structure type 4 (DSP0134 clause 7.5).
type Processor struct {
	Handle                  Handle
	Socket, Maker, Version  string
	Present                 bool                // status bit 6: the socket is populated
	Family                  uint16              // processor family, family 2 where 0xFE says so
	ID                      maybe.Value[uint64] // CPUID leaf 1: EAX low, EDX high; unknown where 0
	MaxSpeedMHz, CurrentMHz maybe.Value[int]
	Cores                   maybe.Value[int]
}

const (
	processorSocket  = 0x04 // string
	processorFamily  = 0x06 // byte
	processorMaker   = 0x07 // string
	processorID      = 0x08 // qword
	processorVersion = 0x10 // string
	processorMax     = 0x14 // word, MHz
	processorCurrent = 0x16 // word, MHz
	processorStatus  = 0x18 // byte
	processorCores   = 0x23 // byte, 2.5
	processorFamily2 = 0x28 // word, 2.6
	processorCores2  = 0x2A // word, 3.0
)

func decodeProcessor(s Structure) Processor {
	p := Processor{Handle: s.Handle, Socket: s.line(processorSocket), Maker: s.line(processorMaker),
		Version: s.line(processorVersion)}
	if status, ok := s.area.Byte(processorStatus); ok {
		p.Present = status&0x40 != 0
	}
	family, _ := s.area.Byte(processorFamily)
	p.Family = uint16(family)
	if wide, ok := s.area.Word(processorFamily2); ok && family == 0xFE {
		p.Family = wide
	}
	if id, ok := s.area.QWord(processorID); ok && id != 0 {
		p.ID = maybe.Just(id)
	}
	p.MaxSpeedMHz = s.count(processorMax)
	p.CurrentMHz = s.count(processorCurrent)
	if cores, ok := s.area.Byte(processorCores); ok && cores != 0 {
		p.Cores = maybe.Just(int(cores))
		if cores2, ok := s.area.Word(processorCores2); ok && cores == 0xFF {
			p.Cores = maybe.Just(int(cores2))
		}
	}
	return p
}

// count returns the word at off, unknown where it is absent or 0.
func (s Structure) count(off int) maybe.Value[int] {
	v, ok := s.area.Word(off)
	return maybe.If(int(v), ok && v != 0)
}

// Signature splits a CPUID leaf 1 EAX value into family, model and stepping
// as the processor makers' manuals do: the extended fields count only where
// the base family is 15, the extended model also where it is 6.
func Signature(eax uint32) (family, model, stepping int) {
	stepping = int(eax & 0xF)
	model = int(eax >> 4 & 0xF)
	family = int(eax >> 8 & 0xF)
	if family == 6 || family == 15 {
		model |= int(eax >> 16 & 0xF << 4)
	}
	if family == 15 {
		family += int(eax >> 20 & 0xFF)
	}
	return family, model, stepping
}

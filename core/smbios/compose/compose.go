// Package compose builds firmware tables from plain values: the demo's
// made-up machines and the tests' odd ones. What it writes is what
// DSP0134 lays out; package smbios reads it back.
package compose

import (
	"bytes"
	"encoding/binary"
)

// A Structure is one structure to write: the formatted area behind the
// four-byte header, and the strings that its string numbers count.
type Structure struct {
	Type    uint8
	Handle  uint16
	Body    []byte
	Strings []string
}

// Bytes returns the structure as it stands in a table.
func (s Structure) Bytes() []byte {
	out := []byte{s.Type, byte(4 + len(s.Body))}
	out = binary.LittleEndian.AppendUint16(out, s.Handle)
	out = append(out, s.Body...)
	for _, text := range s.Strings {
		out = append(append(out, text...), 0)
	}
	if len(s.Strings) == 0 {
		out = append(out, 0)
	}
	return append(out, 0)
}

// Table returns the structures one after the other with the end mark behind.
func Table(structures ...Structure) []byte {
	var out []byte
	for _, s := range structures {
		out = append(out, s.Bytes()...)
	}
	return append(out, Structure{Type: 127, Handle: 0x7F00}.Bytes()...)
}

// EntryPoint64 returns a 3.x entry point for a table of the given length.
func EntryPoint64(major, minor byte, tableLength int) []byte {
	b := append([]byte("_SM3_\x00"), 24, major, minor, 0, 1, 0)
	b = binary.LittleEndian.AppendUint32(b, uint32(tableLength))
	b = binary.LittleEndian.AppendUint64(b, 0x7A000000)
	b[5] = balance(b)
	return b
}

// EntryPoint32 returns a 2.x entry point for a table of the given length and
// number of structures.
func EntryPoint32(major, minor byte, tableLength, structures int) []byte {
	inner := append([]byte("_DMI_\x00"), 0, 0)
	binary.LittleEndian.PutUint16(inner[6:], uint16(tableLength))
	inner = binary.LittleEndian.AppendUint32(inner, 0x000F0000)
	inner = binary.LittleEndian.AppendUint16(inner, uint16(structures))
	inner = append(inner, major<<4|minor)
	inner[5] = balance(inner)
	outer := append([]byte("_SM_\x00"), 0x1F, major, minor)
	outer = append(outer, 0x60, 0x00, 0, 0, 0, 0, 0, 0)
	outer = append(outer, inner...)
	outer[4] = balance(outer)
	return outer
}

// balance returns the byte that makes b sum to zero, where its place now
// holds zero.
func balance(b []byte) (sum byte) {
	for _, x := range b {
		sum -= x
	}
	return sum
}

// A body collects the fields of a formatted area and the strings they number.
type body struct {
	bytes.Buffer
	strings []string
}

func (b *body) byte(v ...byte) { b.Write(v) }
func (b *body) word(v uint16)  { b.Write(binary.LittleEndian.AppendUint16(nil, v)) }
func (b *body) dword(v uint32) { b.Write(binary.LittleEndian.AppendUint32(nil, v)) }
func (b *body) qword(v uint64) { b.Write(binary.LittleEndian.AppendUint64(nil, v)) }
func (b *body) zeros(n int)    { b.Write(make([]byte, n)) }
func (b *body) text(s string)  { b.WriteByte(b.number(s)) }
func (b *body) number(s string) byte {
	if s == "" {
		return 0
	}
	b.strings = append(b.strings, s)
	return byte(len(b.strings))
}

func (b *body) structure(kind uint8, handle uint16) Structure {
	return Structure{Type: kind, Handle: handle, Body: bytes.Clone(b.Bytes()), Strings: b.strings}
}

// Identity is what types 0 to 3 say.
type Identity struct {
	FirmwareVendor, FirmwareVersion, FirmwareDate string
	Maker, Product, Version, Serial, Family       string
	BoardMaker, Board, BoardSerial                string
	ChassisKind                                   byte
}

// Structures returns types 0, 1, 2 and 3 with handles 0x0000, 0x0100, 0x0200
// and 0x0300.
func (id Identity) Structures() []Structure {
	var f, s, b, c body
	f.text(id.FirmwareVendor)
	f.text(id.FirmwareVersion)
	f.word(0xE000)
	f.text(id.FirmwareDate)
	f.byte(0xFF)
	f.qword(0x08)
	f.byte(3, 0, 1, 0, 0xFF, 0xFF)

	s.text(id.Maker)
	s.text(id.Product)
	s.text(id.Version)
	s.text(id.Serial)
	s.zeros(16)
	s.byte(6, 0)
	s.text(id.Family)

	b.text(id.BoardMaker)
	b.text(id.Board)
	b.byte(0)
	b.text(id.BoardSerial)
	b.byte(0, 9, 0)
	b.word(0x0300)
	b.byte(10, 0)

	c.text(id.Maker)
	c.byte(id.ChassisKind, 0)
	c.text(id.Serial)
	c.byte(0, 3, 3, 3, 3)
	c.zeros(4)
	c.byte(0, 1, 0, 0)
	return []Structure{f.structure(0, 0x0000), s.structure(1, 0x0100), b.structure(2, 0x0200), c.structure(3, 0x0300)}
}

// Processor returns a type 4 structure of the 2.6 form.
func Processor(handle uint16, socket, maker, version string, id uint64, maxMHz uint16, cores byte) Structure {
	var p body
	p.text(socket)
	p.byte(3, 0x01)
	p.text(maker)
	p.qword(id)
	p.text(version)
	p.byte(0x8B)
	p.word(100)
	p.word(maxMHz)
	p.word(maxMHz)
	p.byte(0x41, 1)
	p.word(0xFFFF)
	p.word(0xFFFF)
	p.word(0xFFFF)
	p.byte(0, 0, 0, cores, cores, cores)
	p.word(0xFC)
	p.word(0x01)
	return p.structure(4, handle)
}

// Array returns a type 16 structure of the 2.7 form: system memory on the
// board. A maximum of 2 TiB or more goes into the extended field.
func Array(handle uint16, maximumKiB uint64, devices uint16) Structure {
	var a body
	a.byte(3, 3, 3)
	if maximumKiB >= 0x80000000 {
		a.dword(0x80000000)
	} else {
		a.dword(uint32(maximumKiB))
	}
	a.word(0xFFFE)
	a.word(devices)
	if maximumKiB >= 0x80000000 {
		a.qword(maximumKiB << 10)
	} else {
		a.qword(0)
	}
	return a.structure(16, handle)
}

// A Device is what a type 17 structure says; zero fields say nothing.
type Device struct {
	Handle, Array              uint16
	TotalBits, DataBits        uint16
	MiB                        uint32 // 0: the place is empty
	Form, Type                 byte
	Detail                     uint16
	Locator, Bank              string
	Speed, Configured          uint16
	Maker, Serial, Asset, Part string
	Rank                       byte
	MilliVolts                 uint16
}

// Structure returns the type 17 structure in its 2.8 form.
func (d Device) Structure() Structure {
	var b body
	b.word(d.Array)
	b.word(0xFFFE)
	b.word(d.TotalBits)
	b.word(d.DataBits)
	if d.MiB >= 0x7FFF {
		b.word(0x7FFF)
	} else {
		b.word(uint16(d.MiB))
	}
	b.byte(d.Form, 0)
	b.text(d.Locator)
	b.text(d.Bank)
	b.byte(d.Type)
	b.word(d.Detail)
	b.word(d.Speed)
	b.text(d.Maker)
	b.text(d.Serial)
	b.text(d.Asset)
	b.text(d.Part)
	b.byte(d.Rank)
	if d.MiB >= 0x7FFF {
		b.dword(d.MiB)
	} else {
		b.dword(0)
	}
	b.word(d.Configured)
	b.word(d.MilliVolts)
	b.word(d.MilliVolts)
	b.word(d.MilliVolts)
	return b.structure(17, d.Handle)
}

// Mapped returns a type 19 structure for the range from 0 to the given size.
func Mapped(handle, array uint16, sizeKiB uint32) Structure {
	var m body
	m.dword(0)
	m.dword(sizeKiB - 1)
	m.word(array)
	m.byte(1)
	m.qword(0)
	m.qword(0)
	return m.structure(19, handle)
}

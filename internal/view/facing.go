package view

import (
	"fmt"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/module"
)

// Facing lays several sticks out as columns, one row a fact, and marks the
// rows in which they differ. at, where it is given, adds the timings at a
// grade of each stick's generation.
func (p *Page) Facing(sticks []module.Module, at []jedec.Grade) {
	cells := make([]map[string]string, len(sticks))
	columns := []Column{{"", Left, 0}, {"", Left, 14}}
	width := max(12, (p.Width-17)/len(sticks)-len(columnGap))
	for i := range sticks {
		s := &sticks[i]
		cells[i] = facingCells(s)
		if at != nil {
			cells[i][atTheRate] = "?"
			if t, ok := s.At(at[i]); ok {
				cells[i][atTheRate] = fmt.Sprintf("%d: %v", int(at[i].Rate), t)
			}
		}
		columns = append(columns, Column{s.From, Left, width})
	}
	var table [][]string
	differing := 0
	for _, f := range facingOrder {
		label := f.label
		row := []string{" ", label}
		same, stated := true, false
		for i := range sticks {
			cell, ok := cells[i][label]
			same, stated = same && cell == cells[0][label], stated || ok
			if !ok {
				cell = mark(fact.Unknown)
			}
			row = append(row, cell)
		}
		if !stated {
			continue
		}
		if !same {
			row[0] = mark(fact.Disputed)
			differing++
		}
		table = append(table, row)
	}
	p.Headline(fmt.Sprintf("%s sticks; they differ in %d of %d facts.", sentence(numberOf(len(sticks))), differing,
		len(table)))
	p.Blank()
	p.Table(columns, table)
	p.Blank()
	p.Foot(mark(fact.Disputed) + " differs   " + mark(fact.Unknown) + " not stated")
}

// facingOrder is the order of facts when modules stand side by side: each with its
// key in the table of a module's facts, or with what is put together of several.
var facingOrder = []struct {
	label, key string
	of         func(*module.Module) string
}{
	{label: "Size", key: "capacity_mib"}, {label: "Generation", key: "generation"}, {label: "Form", key: "form"},
	{label: "Rate", key: "rated_mts"},
	{label: "CL", key: "cl"}, {label: atTheRate}, {label: "tAA", key: "taa_ps"}, {label: "tRCD", key: "trcd_ps"},
	{label: "tRP", key: "trp_ps"},
	{label: "tRAS", key: "tras_ps"}, {label: "tRC", key: "trc_ps"}, {label: "CLs", of: shortLatencies},
	{label: "Ranks", key: "ranks"},
	{label: "Chips", key: "device_width_bits"}, {label: "Dies", key: "density_mbit"}, {label: "ECC", key: "ecc"},
	{label: "Registered", key: "registered"},
	{label: "Supply", key: "volts"}, {label: "Profile", of: fastestProfile}, {label: "Maker", key: "maker_code"},
	{label: "Chips by", key: "chip_maker"},
	{label: "Part", key: "part"}, {label: "Serial", key: "serial"}, {label: "Made", of: madeIn},
	{label: "Height", key: "height_mm"},
	{label: "Checksum", of: func(m *module.Module) string {
		return map[bool]string{true: m.Checksum}[m.Kind == module.EEPROM]
	}},
}

const atTheRate = "At the rate"

// facingCells gives each fact that is stated in few characters.
func facingCells(m *module.Module) map[string]string {
	stated := make(map[string]string)
	for _, r := range module.Rows() {
		stated[r.Key] = r.Show(m).Text
	}
	cells := make(map[string]string)
	for _, f := range facingOrder {
		text := stated[f.key]
		if f.of != nil {
			text = f.of(m)
		}
		if text != "" {
			cells[f.label] = text
		}
	}
	return cells
}

func shortLatencies(m *module.Module) string {
	list := m.Latencies.Or(jedec.Latencies{}).List()
	if len(list) == 0 {
		return ""
	}
	return fmt.Sprintf("%v to %v, %d", list[0], list[len(list)-1], len(list))
}

func fastestProfile(m *module.Module) string {
	text := ""
	for _, q := range m.Profiles {
		text = fmt.Sprint(int(q.Rate))
	}
	return text
}

func madeIn(m *module.Module) string {
	year, known := m.Year.Get()
	if !known {
		return ""
	}
	return fmt.Sprintf("%d/%02d", year, m.Week.Or(0))
}

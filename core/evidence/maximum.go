package evidence

import (
	"fmt"
	"slices"

	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/smbios"
)

// Firmware's maximum is the array's total on one machine, the largest module
// of one place on another, and simply too low on a third. Each reading is
// tried against what is fitted; the one that agrees is taken, and named.

// readMaximum reads what firmware states, given what is fitted.
func (s sources) readMaximum(places []machine.Place, installed machine.Finding[jedec.Capacity]) []claim[jedec.Capacity] {
	stated := s.firmwareMaximum()
	have, known := installed.Get()
	if len(stated) == 0 || !known || stated[0].value >= have {
		return stated
	}
	sum := stated[0].value
	source := stated[0].support.Source
	var largest jedec.Capacity
	for _, p := range places {
		if p.Module != nil {
			largest = max(largest, p.Module.Capacity.Or(0))
		}
	}
	each := sum / jedec.Capacity(max(1, len(s.tables.SystemArrays())))
	if total := each * jedec.Capacity(len(places)); each >= largest && total >= have {
		return []claim[jedec.Capacity]{claimed(total, fair, source,
			fmt.Sprintf("a maximum of %v; %v are fitted, so it is read as the most of one place: %d × %v", sum, have, len(places), each))}
	}
	return []claim[jedec.Capacity]{claimed(have, hint, source, fmt.Sprintf("a maximum of %v; %v are fitted, so it is understated: the true one is unknown", sum, have))}
}

// reachable is what the machine can come to: soldered memory stays, and each
// socket takes the largest module that is made, within the stated maximum.
func reachable(places []machine.Place, t machine.Totals) machine.Finding[jedec.Capacity] {
	sockets, ok1 := t.Sockets.Get()
	soldered, ok2 := t.Soldered.Get()
	maximum, limited := t.StatedMaximum.Get()
	generation := jedec.GenerationUnknown
	for _, p := range places {
		if p.Module != nil {
			generation = max(generation, p.Module.Generation.Or(generation))
		}
	}
	sizes := jedec.ModuleSizes(generation)
	if !ok1 || !ok2 || sockets > 0 && (!limited || len(sizes) == 0) {
		return machine.Finding[jedec.Capacity]{}
	}
	standing := min(t.Sockets.Standing, t.Soldered.Standing)
	if sockets == 0 {
		return derived(soldered, standing, "sum over the places", "all memory is soldered: it stays as it is")
	}
	room := jedec.Capacity(0)
	if maximum > soldered {
		room = (maximum - soldered) / jedec.Capacity(sockets)
	}
	each := jedec.Capacity(0)
	for _, size := range slices.Backward(sizes) {
		if size <= room {
			each = size
			break
		}
	}
	total := soldered + each*jedec.Capacity(sockets)
	says := fmt.Sprintf("%s of at most %v each", counted(sockets, "socket"), each)
	if soldered > 0 {
		says = fmt.Sprintf("%v soldered and %s", soldered, says)
	}
	return derived(total, min(standing, t.StatedMaximum.Standing), "stated maximum and places", says+fmt.Sprintf(", within %v", maximum))
}

// accounts explains what of the installed memory the system does not see.
func accounts(places []machine.Place, m machine.Machine) []machine.Conflict {
	installed, ok1 := m.Totals.Installed.Get()
	visible, ok2 := m.Totals.Visible.Get()
	if !ok1 || !ok2 {
		return nil
	}
	sources := []string{table(smbios.TypeMemoryDevice, ""), "operating system"}
	switch {
	case visible > installed:
		return []machine.Conflict{{About: "capacity", Sources: sources,
			Says: fmt.Sprintf("the system sees %v, the places come to %v: a module is not listed", visible, installed)}}
	case installed-visible < max(512*jedec.MiB, installed/8):
		return nil // the usual share of graphics and firmware
	case installed >= 4*jedec.GiB && visible >= 2560*jedec.MiB && visible <= 3584*jedec.MiB:
		return []machine.Conflict{{About: "capacity", Sources: sources,
			Says: fmt.Sprintf("the system sees %v of %v: a 32-bit system, or firmware that does not move memory from below 4 GB", visible, installed)}}
	}
	for _, p := range places {
		if p.Module == nil {
			continue
		}
		if size := p.Module.Capacity.Or(0); size > 0 && len(places) > 1 && installed-visible >= size && installed-visible < size+size/2 {
			return []machine.Conflict{{About: "capacity", Sources: sources,
				Says: fmt.Sprintf("the system sees %v of %v: what is missing is as large as the module in %s; it may not be recognised, or not seated", visible, installed, p.Name)}}
		}
	}
	return []machine.Conflict{{About: "capacity", Sources: sources, Says: fmt.Sprintf("the system sees %v of %v: a large graphics share, or a limit of its edition", visible, installed)}}
}

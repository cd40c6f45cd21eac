package evidence

import (
	"fmt"
	"slices"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/plain"
	"epitome/core/reading"
	"epitome/core/records"
	"epitome/core/smbios"
)

// sumOfPlaces is the source of what follows from the places.
const sumOfPlaces = "sum over the places"

// total adds up what the places say. A sum over something unknown is unknown;
// a sum stands no firmer than its weakest part.
func (s sources) total(places []machine.Place) machine.Totals {
	var t machine.Totals
	installed, soldered := jedec.Capacity(0), jedec.Capacity(0)
	sockets, free := 0, 0
	sizes, attached, filled, banks := fact.Settled, fact.Settled, fact.Settled, fact.Settled
	for _, p := range places {
		if p.State == machine.NotMemory {
			continue
		}
		filled = min(filled, p.Filled.Standing())
		attached = min(attached, p.Attach.Standing())
		size := fact.Settled
		var capacity jedec.Capacity
		if p.Module != nil {
			size = p.Module.Capacity.Standing()
			capacity = p.Module.Capacity.Or(0)
		}
		sizes = min(sizes, size)
		installed += capacity
		switch p.Attach.Or("") {
		case machine.Socket:
			sockets++
			if f, ok := p.Filled.Get(); ok && !f {
				free++
			}
		case machine.Soldered:
			soldered += capacity
			banks = min(banks, size)
		}
	}
	if len(places) > 0 {
		const by = sumOfPlaces
		t.Installed = fact.Of(installed, min(sizes, filled),
			fact.Support{Source: by, Says: fmt.Sprintf("%v in %s", installed, plain.Count(len(places), "place"))})
		t.Sockets = fact.Of(sockets, attached,
			fact.Support{Source: by, Says: fmt.Sprintf("of %s %d a socket", plain.Count(len(places), "place"), sockets)})
		t.SocketsFree = fact.Of(free, min(attached, filled),
			fact.Support{Source: by, Says: fmt.Sprintf("%s without a module", plain.Count(free, "socket"))})
		s.countSockets(&t, sockets, free)
		if len(s.spots) == 0 && !s.seenInside() {
			// Modules answer; empty sockets do not.
			const says = "places known by their EEPROMs alone: empty sockets do not show"
			for _, f := range []*fact.Fact[int]{&t.Sockets, &t.SocketsFree} {
				*f = f.Disputed(fact.Support{Source: "EEPROMs", Says: says})
			}
		}
		if s.stickersAlone() {
			doubt := fact.Support{Source: "stickers",
				Says: "only what has a sticker was written down: nobody counted the sockets"}
			t.Sockets, t.SocketsFree = t.Sockets.Softened(fact.Leaning, doubt), t.SocketsFree.Softened(fact.Leaning, doubt)
		}
		if announced, origin := s.announced(); announced > len(places) && len(s.countedSockets()) == 0 {
			// A place that firmware counts and does not describe may be a socket.
			t.Announced = announced
			says := fmt.Sprintf("firmware announces %s and lists %d", plain.Count(announced, "place"), len(places))
			for _, f := range []*fact.Fact[int]{&t.Sockets, &t.SocketsFree} {
				*f = f.Disputed(fact.Support{Source: origin.Announces(), Says: says})
			}
		}
		t.Soldered = fact.Of(soldered, min(attached, banks, filled),
			fact.Support{Source: by, Says: fmt.Sprintf("%v in soldered banks", soldered)})
	}
	if size, ok := s.Panel.Installed.Get(); ok && !t.Installed.Known() {
		t.Installed = fact.Weigh(fact.Claimed(size, fact.Firm, "settings panel", size.String()+" installed"))
	}
	t.Visible = s.visible()
	return t
}

// seenInside reports whether somebody wrote down what sits where, or how many sockets there
// are. Who named the processor, or a limit, need not have looked.
func (s sources) seenInside() bool {
	return slices.ContainsFunc(s.Hands, func(h reading.Hand) bool { return len(h.Seen) > 0 || h.Sockets > 0 })
}

// stickersAlone reports whether places are known by what somebody wrote down of the
// modules alone: an empty socket has no sticker.
func (s sources) stickersAlone() bool {
	seen := false
	for _, h := range s.Hands {
		for _, p := range h.Seen {
			if !p.Filled.Or(true) {
				return false // they looked at empty ones, too
			}
			seen = true
		}
	}
	return seen && len(s.spots)+len(s.EEPROMs)+len(s.countedSockets())+len(s.boards) == 0
}

// visible is what the operating system has to work with.
func (s sources) visible() fact.Fact[jedec.Capacity] {
	var claims []fact.Claim[jedec.Capacity]
	if size, ok := s.Memory["MemTotal"]; ok {
		claims = append(claims, fact.Claimed(size, fact.Firm, "meminfo", fmt.Sprintf("MemTotal %d kB", size/jedec.KiB)))
	}
	for _, o := range s.Objects {
		if kib, ok := o.Number("TotalVisibleMemorySize").Get(); ok && o.Class == records.OperatingSystem && kib < 1<<50 {
			claims = append(claims, fact.Claimed(jedec.Capacity(kib)*jedec.KiB, fact.Firm, recordOf(records.OperatingSystem),
				fmt.Sprintf("TotalVisibleMemorySize %d", kib)))
		}
	}
	if size, ok := s.Panel.Usable.Get(); ok {
		claims = append(claims, fact.Claimed(size, fact.Fair, "settings panel", size.String()+" usable"))
	}
	for _, o := range s.Objects {
		if size, ok := o.Number("TotalPhysicalMemory").Get(); ok && o.Class == records.ComputerSystem && len(claims) == 0 &&
			size < 1<<60 {
			claims = append(claims, fact.Claimed(jedec.Capacity(size), fact.Firm, recordOf(records.ComputerSystem),
				fmt.Sprintf("TotalPhysicalMemory %d", size)))
		}
	}
	return fact.Weigh(claims...)
}

// countSockets lets a count by eye stand over the places that firmware lists,
// and softens a list without a single empty place: some firmware lists filled
// places only.
func (s sources) countSockets(t *machine.Totals, listed, free int) {
	seen := s.countedSockets()
	switch {
	case len(seen) > 0:
		filled := listed - free
		if t.Sockets.Known() && t.Sockets.Standing() == fact.Settled {
			seen = append(seen, fact.Claimed(listed, fact.Fair, sumOfPlaces, plain.Count(listed, "socket")+" listed"))
		}
		t.Sockets = fact.Weigh(seen...)
		if n, ok := t.Sockets.Get(); ok && n >= filled && t.SocketsFree.Standing() >= fact.Leaning {
			t.SocketsFree = fact.Of(n-filled, min(t.Sockets.Standing(), t.SocketsFree.Standing()),
				fact.Support{Source: "count by eye", Says: plain.Count(n-filled, "socket") + " without a module"})
		}
	case listed > 0 && free == 0 && !s.seenInside():
		support := fact.Support{Source: sumOfPlaces, Says: "no empty place is listed: some firmware lists filled ones only"}
		for _, f := range []*fact.Fact[int]{&t.Sockets, &t.SocketsFree} {
			*f = f.Softened(fact.Leaning, support)
		}
	case free > 0 && s.listedOnly(listed):
		support := fact.Support{Source: sumOfPlaces,
			Says: "free sockets are listed by firmware alone: it may list some that the board lacks"}
		for _, f := range []*fact.Fact[int]{&t.Sockets, &t.SocketsFree} {
			*f = f.Softened(fact.Leaning, support)
		}
	}
}

// listedOnly reports whether nothing agrees with firmware's list of sockets: neither a
// person nor the board's entry, nor a panel's count of the slots, nor the processor, whose
// channels they would fill alike and within what it drives.
func (s sources) listedOnly(sockets int) bool {
	if s.seenInside() || len(s.boards) > 0 || s.Panel.Slots.Or(0) == sockets {
		return false
	}
	for _, c := range s.platform().Controllers {
		channels := c.Channels.Or(0) * max(s.processors().Or(1), 1)
		each, known := c.DIMMs.Get()
		if channels > 0 && (sockets%channels == 0 || sockets < channels) && (!known || sockets <= channels*each) {
			return false
		}
	}
	return true
}

// announced is the number of places that a source says there are, the fullest source's; 0 where none says it.
func (s *sources) announced() (places int, by reading.Origin) {
	for _, a := range s.Announced {
		if a.Places > 0 {
			return a.Places, a.Origin
		}
	}
	return 0, reading.Firmware
}

// ofMaximum is the statement of what may be fitted that is taken.
func (s *sources) ofMaximum() (a reading.Announcement, ok bool) {
	for _, a := range s.Announced {
		if size, known := a.Maximum.Get(); known && size > 0 {
			return a, true
		}
	}
	return a, false
}

// arrays is over how many arrays the maximum is stated.
func (s *sources) arrays() int {
	a, _ := s.ofMaximum()
	return a.Arrays
}

// firmwareMaximum is what the firmware says may be fitted, over all arrays. It
// is a statement to be tried against the rest, never more than leaning.
func (s *sources) firmwareMaximum() []fact.Claim[jedec.Capacity] {
	if a, ok := s.ofMaximum(); ok {
		size, _ := a.Maximum.Get()
		return []fact.Claim[jedec.Capacity]{fact.Claimed(size, fact.Fair, a.Origin.Announces(),
			fmt.Sprintf("a maximum of %v", size))}
	}
	// A table from before version 2.1 states the largest module a slot takes.
	if old, ok := s.Tables.OldMaximum().Get(); ok && len(s.Announced) == 0 {
		return []fact.Claim[jedec.Capacity]{fact.Claimed(old, fact.Fair, table(smbios.TypeController),
			fmt.Sprintf("slots and largest module make %v", old))}
	}
	return nil
}

package evidence

import (
	"cmp"
	"slices"
	"strings"
	"time"

	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/reading"
)

// A spot is one place, with what all readings say of it that list it.
type spot struct {
	// What is taken of it: the newest reading's words, and what those leave blank from the others.
	reading.Sighting
	contrary []reading.Sighting // what others of the same day say otherwise
	names    []string           // all that it goes by
	in       []int              // the readings that list it
	gone     bool               // an older reading lists it filled, and a newer list of the filled ones does not
	chip     *reading.EEPROM    // of what is in it
	either   bool               // which one of those that are alike in all but serial number is not known
	idle     bool               // the chip answers, and the lists call the place empty
}

// A bond is a reason for which a sighting is of a spot. The table has the strongest first; a bond that several spots
// have ties nothing.
type bond struct {
	why string
	is  func(x reading.Sighting, y *spot) bool
}

var bonds = []bond{
	{"the same structure of the same table", func(x reading.Sighting, y *spot) bool {
		return x.Handle != "" && x.Handle == y.Handle
	}},
	{"the same locator and bank", func(x reading.Sighting, y *spot) bool {
		return sameText(x.Locator, y.Locator) && sameText(x.Bank, y.Bank)
	}},
	{"the same locator, and one of them names no bank", func(x reading.Sighting, y *spot) bool {
		return sameText(x.Locator, y.Locator) && (x.Bank == "" || y.Bank == "")
	}},
	{"the same module, by its part and serial number", func(x reading.Sighting, y *spot) bool {
		return x.Serial != "" && x.Part != "" && reading.SamePart(x.Part, y.Part) && sameText(x.Serial, y.Serial)
	}},
	{"the same bank, and one of them names no locator", func(x reading.Sighting, y *spot) bool {
		return sameText(x.Bank, y.Bank) && (x.Locator == "" || y.Locator == "")
	}},
	{"nothing speaks against it, and no other place is left", func(x reading.Sighting, y *spot) bool {
		return x.Filled == y.Filled && alike(x.Size, y.Size) && alike(x.Generation, y.Generation) &&
			(x.Locator == "" || y.Locator == "")
	}},
}

// alike reports whether two values are the same, or one of them is not known.
func alike[T comparable](a, b maybe.Value[T]) bool { return !a.Known() || !b.Known() || a == b }

// sameText compares names that are not blank, in whatever letters and blanks.
func sameText(a, b string) bool { return a != "" && machine.SameName(a, b) }

// visit is how far apart readings of one visit are taken at most: nobody fits a module between them.
const visit = 10 * time.Minute

// fuse brings sightings to places: what several readings tell of one place is one place. left are those that fit
// nowhere, beside a list that describes every place.
func fuse(listed []reading.Sighting) (spots []*spot, left []reading.Sighting) {
	listed = slices.Clone(listed)
	slices.SortStableFunc(listed, func(a, b reading.Sighting) int { return b.Taken.Compare(a.Taken) })
	for i := 1; i < len(listed); i++ { // of one visit, whichever was read first
		if listed[i-1].Taken.Sub(listed[i].Taken) <= visit {
			listed[i].Taken = listed[i-1].Taken
		}
	}
	slices.SortStableFunc(listed, func(a, b reading.Sighting) int {
		return cmp.Or(b.Taken.Compare(a.Taken), cmp.Compare(a.Origin, b.Origin), cmp.Compare(a.Reading, b.Reading))
	})
	for len(listed) > 0 {
		n := slices.IndexFunc(listed, func(x reading.Sighting) bool { return x.Reading != listed[0].Reading })
		if n < 0 {
			n = len(listed)
		}
		var more []reading.Sighting
		spots, more = join(spots, listed[:n])
		left = append(left, more...)
		listed = listed[n:]
	}
	return spots, left
}

// join brings one reading's sightings to the places that are known so far.
func join(spots []*spot, group []reading.Sighting) (all []*spot, left []reading.Sighting) {
	open := slices.Clone(group)
	before := slices.Clone(spots)
	for _, b := range bonds {
		beside := slices.Clone(open) // that may be of the same place, as they were before any of them is tied by this bond
		open = slices.DeleteFunc(open, func(x reading.Sighting) bool {
			var found *spot
			for _, y := range before {
				if slices.Contains(y.in, x.Reading) || !b.is(x, y) {
					continue
				}
				if found != nil {
					return false
				}
				found = y
			}
			if found == nil || rivals(beside, found, b) != 1 {
				return false
			}
			found.add(x)
			return true
		})
	}
	if len(before) > 0 && len(open) == len(before) && byPosition(before, open) {
		return before, nil
	}
	for _, x := range open {
		if len(before) > 0 && !adds(before, x) {
			left = append(left, x)
			continue
		}
		y := &spot{Sighting: x, in: []int{x.Reading}, names: namesOf(x)}
		if y.gone = x.Filled.Or(false) && newerList(before, x); y.gone {
			y.Filled = maybe.Just(false)
		}
		spots = append(spots, y)
	}
	return spots, left
}

// rivals counts the sightings of a reading that have the bond with a spot.
func rivals(open []reading.Sighting, y *spot, b bond) (n int) {
	for _, x := range open {
		if b.is(x, y) {
			n++
		}
	}
	return n
}

// byPosition ties as many sightings as there are places one by one, where neither the one nor the other names any.
func byPosition(spots []*spot, open []reading.Sighting) bool {
	for i, x := range open {
		if y := spots[i]; len(y.in) == 0 || slices.Contains(y.in, x.Reading) || x.Locator+x.Bank != "" &&
			y.Locator+y.Bank != "" || x.Origin != y.Origin || x.Filled != y.Filled || !alike(x.Size, y.Size) {
			return false
		}
	}
	for i, x := range open {
		spots[i].add(x)
	}
	return true
}

// adds reports whether a sighting may be a place that is not known yet: not one of the filled places that a system
// lists beside a table that describes all of them.
func adds(spots []*spot, x reading.Sighting) bool {
	return x.Origin != reading.Records && x.Origin != reading.PanelCount ||
		!slices.ContainsFunc(spots, func(y *spot) bool { return y.Origin != reading.Records })
}

// newerList reports whether a list of the filled places is newer than a sighting that it does not have.
func newerList(spots []*spot, x reading.Sighting) bool {
	return slices.ContainsFunc(spots, func(y *spot) bool { return y.Taken.After(x.Taken) })
}

// add takes what another reading says of the place.
func (y *spot) add(x reading.Sighting) {
	y.in = append(y.in, x.Reading)
	for _, name := range namesOf(x) {
		y.names = nameAdded(y.names, name)
	}
	if !x.Taken.Before(y.Taken) { // of the same day; what is older is history
		var c reading.Sighting
		c.Origin, c.Locator, c.Bank, c.GenerationSays = x.Origin, x.Locator, x.Bank, x.GenerationSays
		c.Size, c.Generation = unlike(x.Size, y.Size), unlike(x.Generation, y.Generation)
		if y.Filled.Or(false) && x.Filled.Or(false) && (c.Size.Known() || c.Generation.Known()) {
			y.contrary = append(y.contrary, c)
		}
	}
	own := &y.Sighting
	fill(&own.Filled, x.Filled)
	fill(&own.Form, x.Form)
	fill(&own.Generation, x.Generation)
	fill(&own.Size, x.Size)
	fill(&own.Ranks, x.Ranks)
	fill(&own.Registered, x.Registered)
	fill(&own.ECC, x.ECC)
	fill(&own.MilliVolts, x.MilliVolts)
	if !own.TotalBits.Known() || !own.DataBits.Known() {
		own.TotalBits, own.DataBits = x.TotalBits, x.DataBits
	}
	if !own.Speed.Known() && !own.Configured.Known() {
		own.Speed, own.Configured, own.SpeedRuns, own.OneSpeed = x.Speed, x.Configured, x.SpeedRuns, x.OneSpeed
	}
	for _, text := range []struct {
		own  *string
		more string
	}{{&own.Handle, x.Handle}, {&own.Locator, x.Locator}, {&own.Bank, x.Bank}, {&own.FilledSays, x.FilledSays},
		{&own.FormSays, x.FormSays}, {&own.GenerationSays, x.GenerationSays}, {&own.BufferingSays, x.BufferingSays},
		{&own.Maker, x.Maker}, {&own.Serial, x.Serial}, {&own.Part, x.Part}, {&own.NotMemory, x.NotMemory}} {
		if *text.own == "" {
			*text.own = text.more
		}
	}
	own.Chips, own.LoadReduced = own.Chips || x.Chips, own.LoadReduced || x.LoadReduced
	own.HasSerial, own.HasPart = own.HasSerial || x.HasSerial, own.HasPart || x.HasPart
	own.Failed = own.Failed || x.Failed
}

// fill takes a value where there is none.
func fill[T any](own *maybe.Value[T], more maybe.Value[T]) {
	if !own.Known() {
		*own = more
	}
}

// unlike returns a value that is another one than the known one.
func unlike[T comparable](x, own maybe.Value[T]) maybe.Value[T] {
	if alike(x, own) {
		return maybe.None[T]()
	}
	return x
}

// namesOf are the names by which a source calls a place.
func namesOf(x reading.Sighting) (names []string) {
	if x.Locator != "" {
		names = append(names, x.Locator)
		if x.Bank != "" {
			names = append(names, x.Bank+"/"+x.Locator)
		}
	}
	return names
}

// nameAdded adds a name that is not there yet.
func nameAdded(names []string, name string) []string {
	if name == "" || slices.ContainsFunc(names, func(n string) bool { return strings.EqualFold(n, name) }) {
		return names
	}
	return append(names, name)
}

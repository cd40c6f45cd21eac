package module

import (
	"fmt"
	"strings"

	"epitome/core/jedec"
)

// Written is a text that reads as the module: what it was read from, or, of an EEPROM image, what a shop
// would write of it.
func (s *Module) Written() string {
	if s.Kind != EEPROM {
		return s.From
	}
	var words []string
	add := func(known bool, format string, args ...any) {
		if known {
			words = append(words, fmt.Sprintf(format, args...))
		}
	}
	size, sized := s.Capacity.Get()
	add(sized, "%s", strings.ReplaceAll(size.String(), " ", ""))
	ranks, ok1 := s.Ranks.Get()
	width, ok2 := s.Width.Get()
	add(ok1 && ok2, "%dRx%d", ranks, width)
	grade, graded := s.Grade().Get()
	add(graded, "%v", grade)
	cl, timed := s.CL.Get()
	add(timed, "CL%v", cl)
	form, formed := s.Form.Get()
	add(formed, "%v", form)
	volts, given := s.Supplies.Get()
	add(given && volts.Len() > 0, "%s", jedec.Volts(append(volts.List(), 0)[0]))
	switch {
	case s.LoadReduced.Or(false):
		add(true, "load-reduced ECC")
	case s.Registered.Or(false):
		add(true, "registered ECC")
	default:
		add(s.Registered.Known(), "unbuffered")
		add(s.ECC.Known(), "%s", map[bool]string{true: "ECC", false: "non-ECC"}[s.ECC.Or(false)])
	}
	return strings.Join(words, " ")
}

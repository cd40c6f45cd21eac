package reading

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"epitome/core/card"
	"epitome/core/naming"
	"epitome/core/records"
)

// An Export is what one reading has of a system's own words.
type Export struct {
	records.Export
	Source string
}

// readExports decodes what systems wrote of themselves, the newest first. What is of another machine than the table,
// or than the first of them, is left out by name.
func (s *Set) readExports(c card.Card) {
	readings := c.Of(card.CIM)
	slices.SortStableFunc(readings, func(a, b card.Reading) int { return cmp.Compare(b.Taken.Unix(), a.Taken.Unix()) })
	own := s.identityOfTables()
	for _, r := range readings {
		x, err := records.ParseExport(r.Data)
		if err != nil {
			s.fail(r.Source, err.Error())
		}
		if len(x.Others) > 0 {
			s.Ignored = append(s.Ignored, r.Source+": "+strings.Join(x.Others, ", "))
		}
		e := Export{x, r.Source}
		if other := own.unlike(identityOf(e)); other != "" {
			s.fail(r.Source, "of another machine: "+other+"; not used")
			continue
		}
		own = own.with(identityOf(e))
		s.Exports = append(s.Exports, e)
		s.Objects = append(s.Objects, x.Objects...)
		s.readExportPlaces(x, r.Taken)
	}
}

// An identity is what tells one machine from another: texts that are blank or placeholders are empty.
type identity struct {
	serial, board, model string
}

func (s *Set) identityOfTables() (id identity) {
	for _, y := range s.Tables.Systems {
		id.serial, id.model = told(y.Serial), told(y.Product)
	}
	for _, b := range s.Tables.Boards {
		id.board = told(b.Product)
	}
	return id
}

func identityOf(e Export) (id identity) {
	for _, o := range e.Objects {
		switch o.Class {
		case records.ComputerSystemProduct:
			id.serial = told(o.Text("IdentifyingNumber"))
		case records.ComputerSystem:
			id.model = told(o.Text("Model"))
		case records.BaseBoard:
			id.board = told(o.Text("Product"))
		}
	}
	if e.Overview != nil {
		id.model = told(e.Overview.Model)
	}
	return id
}

// unlike says by what two identities are of two machines; empty where nothing tells. Where both have a serial number
// it decides.
func (id identity) unlike(o identity) string {
	for _, x := range []struct{ what, mine, other string }{
		{"serial number", id.serial, o.serial}, {"board", id.board, o.board}, {"model", id.model, o.model}} {
		switch {
		case x.mine == "" || x.other == "":
		case x.what == "serial number" && !strings.EqualFold(x.mine, x.other), !naming.Same(x.mine, x.other):
			return fmt.Sprintf("its %s is %q, the first one's %q", x.what, x.other, x.mine)
		case x.what == "serial number":
			return ""
		}
	}
	return ""
}

// with fills what an identity lacks.
func (id identity) with(o identity) identity {
	return identity{cmp.Or(id.serial, o.serial), cmp.Or(id.board, o.board), cmp.Or(id.model, o.model)}
}

// ExportedDate reads a date as shells write it: CIM's "20190318000000.000000+000",
// ISO 8601, or milliseconds since 1970 as "/Date(1552867200000)/". One that is
// written otherwise stays as it is.
func ExportedDate(text string) string {
	if ms, found := strings.CutPrefix(text, "/Date("); found {
		if n, err := strconv.ParseInt(strings.TrimRight(ms, ")/"), 10, 64); err == nil {
			return time.UnixMilli(n).UTC().Format(time.DateOnly)
		}
	}
	for _, layout := range []string{"20060102", time.DateOnly} {
		if len(text) >= len(layout) {
			if d, err := time.Parse(layout, text[:len(layout)]); err == nil {
				return d.Format(time.DateOnly)
			}
		}
	}
	return text
}

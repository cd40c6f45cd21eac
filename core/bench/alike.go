package bench

import (
	"crypto/sha256"
	"encoding/binary"
	"reflect"
	"sync"

	"epitome/core/catalogue"
)

// A likeness finds machines of which nothing that counts is unlike: the same model, fitted
// the same, with the same evidence of it. What can be done for one can be done for the other.
type likeness struct {
	mu    sync.Mutex
	known []catalogue.Catalogue
	found map[[sha256.Size]byte][]byte // packed: there may be thousands
}

// A looked is what was found out of one machine, and holds for all that are alike.
type looked struct {
	Need, Gain int
	State      RoundState
	Says       string
	Ways       []roundWay
	Specs      []roundSpec
}

// key is the same for machines that are alike. Limits follow from the machine and the
// catalogue, and need not be looked at.
func (x *likeness) key(b *Bench) [sha256.Size]byte {
	text := digest(nil, reflect.ValueOf(b.Machine()))
	for _, one := range b.builds() {
		text = digest(append(text, one.says...), reflect.ValueOf(one.bench.Machine()))
	}
	x.mu.Lock()
	defer x.mu.Unlock()
	at := 0
	for at < len(x.known) && !x.known[at].Same(b.catalogue) {
		at++
	}
	if at == len(x.known) {
		x.known = append(x.known, b.catalogue)
	}
	return sha256.Sum256(binary.AppendUvarint(text, uint64(at)))
}

func (x *likeness) get(key [sha256.Size]byte) (l looked, ok bool) {
	x.mu.Lock()
	text, ok := x.found[key]
	x.mu.Unlock()
	return l, ok && unpack(text, &l) == nil
}

func (x *likeness) put(key [sha256.Size]byte, l looked) {
	text, err := pack(l)
	if err != nil {
		return
	}
	x.mu.Lock()
	defer x.mu.Unlock()
	x.found[key] = text
}

// single are fields that tell one machine from another that is alike, and that nothing
// depends on.
var single = map[string]bool{"Serial": true, "Year": true, "Week": true}

// digest writes a value so that two that differ anywhere are written differently. Pointers
// are followed; the values here hold no rings.
func digest(to []byte, v reflect.Value) []byte {
	switch v.Kind() {
	case reflect.Struct:
		t := v.Type()
		for i := range v.NumField() {
			if !single[t.Field(i).Name] {
				to = digest(to, v.Field(i))
			}
		}
	case reflect.Pointer, reflect.Interface:
		if v.IsNil() {
			return append(to, 0)
		}
		to = digest(append(to, 1), v.Elem())
	case reflect.Slice, reflect.Array:
		to = binary.AppendUvarint(to, uint64(v.Len()))
		for i := range v.Len() {
			to = digest(to, v.Index(i))
		}
	case reflect.String:
		to = append(binary.AppendUvarint(to, uint64(v.Len())), v.String()...)
	case reflect.Bool:
		to = append(to, map[bool]byte{true: 1}[v.Bool()])
	case reflect.Int, reflect.Int8, reflect.Int16, reflect.Int32, reflect.Int64:
		to = binary.AppendVarint(to, v.Int())
	case reflect.Uint, reflect.Uint8, reflect.Uint16, reflect.Uint32, reflect.Uint64, reflect.Uintptr:
		to = binary.AppendUvarint(to, v.Uint())
	default: // of a machine, nothing is of another kind
		panic("bench: a machine holds a " + v.Kind().String())
	}
	return to
}

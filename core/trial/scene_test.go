package trial

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
)

// Whether each socket has a channel of its own is told by the controller, or by as many channels as sockets; by two
// sockets where nobody knows the channels; and never where a place names its channel.
func TestWhenEachSocketHasItsChannel(t *testing.T) {
	for _, c := range []struct {
		name    string
		figures string // of the processor
		sockets int
		named   bool // the places name their channels
		apart   bool
	}{
		{"one slot a channel", "slots_per_channel: 1", 4, false, true},
		{"two slots a channel", "channels: 2, slots_per_channel: 2", 4, false, false},
		{"as many channels as sockets", "channels: 4", 4, false, true},
		{"fewer channels than sockets", "channels: 2", 4, false, false},
		{"two sockets, channels not known", "", 2, false, true},
		{"three sockets, channels not known", "", 3, false, false},
		{"two sockets on one channel", "channels: 1", 2, false, false},
		{"as many, and named", "channels: 2", 2, true, true},
		{"fewer, and named", "channels: 2", 4, true, false},
		{"one slot a channel, and named", "slots_per_channel: 1", 2, true, true},
	} {
		r := desktop().With(func(r *rig) {
			r.Takes, r.Places, r.Hand = "generation: DDR4, "+c.figures, nil, ""
			var seen []string
			for _, n := range []string{"1", "2", "3", "4"}[:c.sockets] {
				r.Places = append(r.Places, "SLOT_"+n+" - 0 0")
				seen = append(seen, "{name: SLOT_"+n+", attach: socket, takes: DIMM}")
			}
			r.Hand = "places: [" + strings.Join(seen, ", ") + "]\n"
		})
		m, l := r.Machine(t)
		for i := range m.Places {
			assert.False(t, m.Places[i].Channel.Known(), c.name)
			if c.named {
				m.Places[i].Channel = fact.Known(string(rune('A' + i)))
			}
		}
		s := newSetting(m, l)
		assert.Equal(t, c.apart, s.apart, c.name)
		want := ""
		if c.apart {
			want = m.Places[0].Name
		}
		if c.named {
			want = "A"
		}
		assert.Equal(t, want, s.channelOf(m.Places[0]), c.name)
	}
}

package trial

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
)

// Which sockets share a channel is told by names, by a controller of one channel, by as many channels as sockets; else
// there are some ways in which they may be wired.
func TestHowSocketsMayBeWired(t *testing.T) {
	for _, c := range []struct {
		name    string
		figures string // of the processor
		sockets int
		named   string // the channels that the places name, - for none
		base    string // the channel of each place, as modules are placed
		told    bool
		ways    int // where no two places hold the same
	}{
		{"one slot a channel", "slots_per_channel: 1", 4, "----", "1234", true, 1},
		{"two slots a channel", "channels: 2, slots_per_channel: 2", 4, "----", "1133", false, 3},
		{"as many channels as sockets", "channels: 4", 4, "----", "1234", true, 1},
		{"fewer channels than sockets", "channels: 2", 4, "----", "1133", false, 3},
		{"more channels than sockets", "channels: 4", 2, "--", "12", true, 1},
		{"an odd socket", "channels: 2", 3, "---", "113", false, 3},
		{"two sockets, channels not known", "", 2, "--", "12", true, 1},
		{"three sockets, channels not known", "", 3, "---", "113", false, 4},
		{"four sockets, channels not known", "", 4, "----", "1133", false, 4},
		{"one channel", "channels: 1", 2, "--", "AA", true, 1},
		{"as many, and named", "channels: 2", 2, "AB", "AB", true, 1},
		{"fewer, and named", "channels: 2", 4, "AABB", "AABB", true, 1},
		{"named against the count", "channels: 2", 4, "AAAB", "AAAB", true, 1},
		{"three of four named", "channels: 2", 4, "AB-B", "ABAB", true, 1},
		{"one channel named", "channels: 2", 4, "AA--", "AA33", true, 1},
		{"one of four named", "channels: 2", 4, "A---", "AA33", false, 3},
		{"two of four named", "channels: 2", 4, "A-B-", "AABB", false, 2},
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
		var each []string
		for i := range m.Places {
			assert.False(t, m.Places[i].Channel.Known(), c.name)
			if c.named[i] != '-' {
				m.Places[i].Channel = fact.Known(c.named[i : i+1])
			}
			each = append(each, m.Places[i].Name)
		}
		s := newSetting(m, l)
		base := ""
		for _, channel := range s.base {
			base += strings.TrimPrefix(channel, "SLOT_")
		}
		assert.Equal(t, c.base, base, c.name)
		assert.Equal(t, c.told, s.told, c.name)
		ways, all := s.wirings(each)
		assert.True(t, all, c.name)
		assert.Len(t, ways, c.ways, c.name)
	}
}

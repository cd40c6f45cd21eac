package evidence

import (
	"cmp"
	"fmt"
	"slices"

	"epitome/core/fact"
	"epitome/core/machine"
	"epitome/core/plain"
	"epitome/core/smbios"
)

// shareChannels gives the places without a channel those that are left, where some have theirs and the count leaves
// no choice: one socket on each channel, or room on one of them alone.
func (s *sources) shareChannels(places []machine.Place) {
	var without []*machine.Place
	held := make(map[string]int)
	for i := range places {
		if c, ok := places[i].Channel.Get(); ok {
			held[c]++
		} else {
			without = append(without, &places[i])
		}
	}
	if len(without) == 0 || len(held) == 0 {
		return
	}
	channels := s.channelCount(len(places))
	if channels == 0 || len(s.platform().Controllers) == 0 {
		return
	}
	each := len(places) / channels
	var room []string
	for n := range channels {
		c := string(rune('A' + n))
		for range each - held[c] {
			room = append(room, c)
		}
		delete(held, c)
	}
	if len(held) > 0 || len(room) != len(without) || each > 1 && room[0] != room[len(room)-1] {
		return // names of another kind, more on one channel than on another, or several ways
	}
	for i, p := range without {
		p.Channel = fact.Of(room[i], fact.Leaning, fact.Support{Source: "memory controller",
			Says: fmt.Sprintf("%d of %s on each channel: what the others leave", each, plain.Count(len(places), "place"))})
	}
}

// channelByName is the channel that a place's own names give, also that of a place
// that somebody added.
func channelByName(locator, bank string, w fact.Weight, source string) []fact.Claim[string] {
	channel, ok := channelOf(smbios.ParsePosition(locator, bank))
	if !ok {
		return nil
	}
	says := fmt.Sprintf("its name %q", locator)
	if bank != "" {
		says = fmt.Sprintf("locator %q, bank %q", locator, bank)
	}
	return []fact.Claim[string]{fact.Claimed(channel, w, source, says)}
}

// channelOf names the channel within the machine: the maker's letter or
// digit, with processor and controller before it where the name tells them.
func channelOf(p smbios.Position) (string, bool) {
	channel, ok := p.Channel.Get()
	if mc, has := p.Controller.Get(); ok && has {
		channel = fmt.Sprintf("%d-%s", mc, channel)
	}
	if cpu, has := p.Processor.Get(); ok && has && cpu > 0 {
		channel = fmt.Sprintf("P%d %s", cpu, channel)
	}
	return channel, ok
}

// channelCount is how many channels so many sockets share: the controller's, where the
// sockets divide by them; two sockets share two, where nobody says.
func (s *sources) channelCount(sockets int) int {
	channels := 0
	for _, c := range s.platform().Controllers {
		if n, ok := c.Channels.Get(); ok {
			if channels != 0 && channels != n {
				return 0 // generations differ
			}
			channels = n
		}
	}
	channels *= max(s.processors().Or(1), 1)
	switch {
	case channels == 0 && sockets == 2:
		return 2
	case channels == 0 || sockets%channels != 0:
		return 0
	}
	return channels
}

// freeChannels are the channels of the places that nobody lists, by count: every
// channel has as many sockets. The ones on channels without a module come first, as
// boards are filled. Of a single listed place without a name that tells, its channel is
// called the first one.
func (s *sources) freeChannels(listed []machine.Place, many int) (free []string) {
	if many <= len(listed) {
		return nil
	}
	channels := s.channelCount(many)
	if channels == 0 {
		return nil
	}
	if _, named := listed[0].Channel.Get(); !named && len(listed) == 1 {
		listed[0].Channel = fact.Of("A", fact.Leaning,
			fact.Support{Source: "memory controller",
				Says: fmt.Sprintf("one of %s, whichever it is", plain.Count(channels, "channel"))})
	}
	left := make(map[string]int)
	var order []string
	for n := range channels {
		order = append(order, string(rune('A'+n)))
		left[order[n]] = many / channels
	}
	for _, p := range listed {
		c, named := p.Channel.Get()
		if _, is := left[c]; !named || !is || left[c] == 0 {
			return nil // names of another kind, or more on one channel than on another
		}
		left[c]--
	}
	for len(free) < many-len(listed) {
		slices.SortStableFunc(order, func(a, b string) int { return cmp.Compare(left[b], left[a]) })
		free = append(free, order[0])
		left[order[0]]--
	}
	return free
}

package trial

import (
	"cmp"
	"slices"

	"epitome/core/jedec"
)

// A Share is what one channel holds.
type Share struct {
	Channel  string // empty where it is not known
	Capacity jedec.Capacity
}

// A Layer is a part of memory that is spread over the same channels.
type Layer struct {
	Channels int
	Capacity jedec.Capacity
}

// Layered divides channels of unequal size into layers, as controllers that
// interleave flexibly do: as much as every channel has is spread over all of
// them, what is left over those that have more, and the last rest lies in one
// channel alone. Layers are widest first.
func Layered(shares []Share) []Layer {
	var left []jedec.Capacity
	for _, s := range shares {
		if s.Capacity > 0 {
			left = append(left, s.Capacity)
		}
	}
	slices.SortFunc(left, func(a, b jedec.Capacity) int { return cmp.Compare(a, b) })
	var layers []Layer
	taken := jedec.Capacity(0)
	for i, size := range left {
		if size > taken {
			n := len(left) - i
			layers = append(layers, Layer{n, (size - taken) * jedec.Capacity(n)})
			taken = size
		}
	}
	return layers
}

// interleaved is the part that is spread over more than one channel.
func interleaved(layers []Layer) (sum jedec.Capacity) {
	for _, l := range layers {
		if l.Channels > 1 {
			sum += l.Capacity
		}
	}
	return sum
}

// shares adds up what each channel holds, in the order of the channels' names.
// Seats of unknown channel share one entry without a name.
func shares(seats []Seat) (out []Share) {
	for _, s := range seats {
		i := slices.IndexFunc(out, func(x Share) bool { return x.Channel == s.Channel })
		if i < 0 {
			out = append(out, Share{Channel: s.Channel})
			i = len(out) - 1
		}
		out[i].Capacity += s.Stick.Capacity.Or(0)
	}
	slices.SortStableFunc(out, func(a, b Share) int { return cmp.Compare(a.Channel, b.Channel) })
	return out
}

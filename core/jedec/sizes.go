package jedec

// ModuleSizes returns the sizes in which unbuffered modules of a generation
// are made for sockets, smallest first; nil for generations that come
// soldered. The largest follow from the largest die of the generation's
// standard at two ranks of x8 chips: SDR 256 Mbit (JESD21-C 4.5), DDR 1 Gbit
// (JESD79), DDR2 4 Gbit (JESD79-2), DDR3 8 Gbit (JESD79-3), DDR4 16 Gbit
// (JESD79-4), DDR5 32 Gbit as made, 64 Gbit in the standard (JESD79-5). DDR5
// dies of 24 Gbit make the sizes that are no powers of two.
func ModuleSizes(g Generation) []Capacity {
	switch g {
	case SDR:
		return []Capacity{32 * MiB, 64 * MiB, 128 * MiB, 256 * MiB, 512 * MiB}
	case DDR:
		return []Capacity{128 * MiB, 256 * MiB, 512 * MiB, 1 * GiB, 2 * GiB}
	case DDR2:
		return []Capacity{256 * MiB, 512 * MiB, 1 * GiB, 2 * GiB, 4 * GiB, 8 * GiB}
	case DDR3:
		return []Capacity{512 * MiB, 1 * GiB, 2 * GiB, 4 * GiB, 8 * GiB, 16 * GiB}
	case DDR4:
		return []Capacity{2 * GiB, 4 * GiB, 8 * GiB, 16 * GiB, 32 * GiB}
	case DDR5:
		return []Capacity{8 * GiB, 12 * GiB, 16 * GiB, 24 * GiB, 32 * GiB, 48 * GiB, 64 * GiB}
	}
	return nil
}

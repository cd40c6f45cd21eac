//go:build !linux && !windows && !darwin

package live

import (
	"errors"
	"time"
)

// Here reads this machine. Where no reader for the operating system is built
// in it says so.
func Here(time.Time) (Haul, error) {
	return Haul{}, errors.New("this machine can't be read live on this operating system yet; collect its files and use " +
		"intake --from FOLDER")
}

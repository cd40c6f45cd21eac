package live

import "time"

// Here reads this machine through the system's own description of itself. Firmware
// tables and module EEPROMs are not to be had on this system.
func Here(now time.Time) (Haul, error) { return describing(overviewCommand, now) }

// overviewCommand is what a system that describes itself as JSON is asked with.
var overviewCommand = []string{"/usr/sbin/system_profiler", "-json", "SPHardwareDataType", "SPMemoryDataType",
	"SPSoftwareDataType"}

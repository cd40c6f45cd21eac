package live

import (
	"bytes"
	"os"
	"runtime"
	"strconv"
	"strings"

	"golang.org/x/sys/unix"

	"epitome/core/records"
)

// takePiece maps memory of its own, in large pages where the system gives them.
func takePiece(size int) ([]byte, error) {
	b, err := unix.Mmap(-1, 0, size, unix.PROT_READ|unix.PROT_WRITE, unix.MAP_PRIVATE|unix.MAP_ANON|unix.MAP_NORESERVE)
	if err != nil {
		return nil, err
	}
	_ = unix.Madvise(b, unix.MADV_HUGEPAGE) // where it can't be had, looking up pages is part of a walk's time
	return b, nil
}

func givePiece(b []byte) { _ = unix.Munmap(b) }

// MemoryRoom is how much memory the system has, and how much of it programs may have
// without pushing others out.
func MemoryRoom() (Room, error) {
	text, err := os.ReadFile("/proc/meminfo")
	if err != nil {
		return Room{}, ErrNoMemory
	}
	sizes := records.ParseMemInfo(text)
	r := Room{All: uint64(sizes["MemTotal"]), Available: uint64(sizes["MemAvailable"])}
	if r.All == 0 || r.Available == 0 {
		return r, ErrNoMemory
	}
	return r, nil
}

// LargePages reports whether most of the memory that this program holds is in large pages.
func LargePages() bool {
	text, err := os.ReadFile("/proc/self/smaps_rollup")
	if err != nil {
		return false
	}
	size := func(name string) int {
		for line := range bytes.Lines(text) {
			if rest, ok := bytes.CutPrefix(line, []byte(name+":")); ok {
				n, _ := strconv.Atoi(string(bytes.TrimSpace(bytes.TrimSuffix(bytes.TrimSpace(rest), []byte("kB")))))
				return n
			}
		}
		return 0
	}
	return 2*size("AnonHugePages") > size("Rss")
}

// Humble lets every other program go first.
func Humble() {
	const least = 19
	_ = unix.Setpriority(unix.PRIO_PROCESS, 0, least)
}

// ProcessorTime is how long the processors were idle, and how long they were in all, in the
// system's own units since it started; ok is false where it does not say.
func ProcessorTime() (idle, all uint64, ok bool) {
	text, err := os.ReadFile("/proc/stat")
	if err != nil {
		return 0, 0, false
	}
	first, _, _ := strings.Cut(string(text), "\n")
	words := strings.Fields(first)
	const idleAt, waitingAt = 4, 5 // proc(5): user, nice, system, idle, iowait
	if len(words) <= waitingAt || words[0] != "cpu" {
		return 0, 0, false
	}
	for i, word := range words[1:] {
		n, err := strconv.ParseUint(word, 10, 64)
		if err != nil {
			return 0, 0, false
		}
		if all += n; i+1 == idleAt || i+1 == waitingAt {
			idle += n
		}
	}
	return idle, all, true
}

// Processors is how many threads run at once.
func Processors() int { return runtime.NumCPU() }

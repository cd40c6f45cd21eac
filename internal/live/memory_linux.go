package live

import (
	"bytes"
	"os"
	"path"
	"runtime"
	"slices"
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
	if left, limited := groupRoom(os.ReadFile); limited {
		r.Available = min(r.Available, left)
	}
	return r, nil
}

// groupRoom is what the control groups that the program runs in leave it, in bytes: of each group on the way up, its
// limit less what it uses (kernel: Documentation/admin-guide/cgroup-v2.rst, memory.max and memory.current;
// cgroup-v1/memory.rst). limited is false where none has a limit.
func groupRoom(read func(path string) ([]byte, error)) (left uint64, limited bool) {
	text, err := read("/proc/self/cgroup")
	if err != nil {
		return 0, false
	}
	number := func(path string) (uint64, bool) {
		text, err := read(path)
		if err != nil {
			return 0, false
		}
		n, err := strconv.ParseUint(string(bytes.TrimSpace(text)), 10, 64)
		return n, err == nil // "max" is no limit
	}
	for line := range strings.Lines(string(text)) {
		parts := strings.SplitN(strings.TrimSpace(line), ":", 3) // number, controllers, path
		if len(parts) != 3 {
			continue
		}
		root, most, used := "/sys/fs/cgroup", "memory.max", "memory.current"
		switch {
		case parts[1] == "":
		case slices.Contains(strings.Split(parts[1], ","), "memory"):
			root, most, used = "/sys/fs/cgroup/memory", "memory.limit_in_bytes", "memory.usage_in_bytes"
		default:
			continue
		}
		for at := path.Clean("/" + parts[2]); ; at = path.Dir(at) {
			limit, ok := number(path.Join(root, at, most))
			if in, known := number(path.Join(root, at, used)); ok && known {
				room := limit - min(limit, in)
				if !limited || room < left {
					left, limited = room, true
				}
			}
			if at == "/" {
				break
			}
		}
	}
	return left, limited
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

package live

import (
	"runtime"
	"unsafe"

	"golang.org/x/sys/windows"
)

// takePiece asks for memory of its own. Large pages want a right that ordinary users do not
// have, so looking up pages is part of a walk's time.
func takePiece(size int) ([]byte, error) {
	at, err := windows.VirtualAlloc(0, uintptr(size), windows.MEM_COMMIT|windows.MEM_RESERVE, windows.PAGE_READWRITE)
	if err != nil {
		return nil, err
	}
	return unsafe.Slice((*byte)(unsafe.Add(nil, at)), size), nil
}

func givePiece(b []byte) {
	_ = windows.VirtualFree(uintptr(unsafe.Pointer(&b[0])), 0, windows.MEM_RELEASE)
}

// MemoryRoom is how much memory the system has, and how much of it programs may have
// without pushing others out.
func MemoryRoom() (Room, error) {
	m := memoryStatus{length: uint32(unsafe.Sizeof(memoryStatus{}))}
	if ok, _, _ := globalMemoryStatusEx.Call(uintptr(unsafe.Pointer(&m))); ok == 0 || m.totalPhys == 0 {
		return Room{}, ErrNoMemory
	}
	return Room{All: m.totalPhys, Available: m.availPhys}, nil
}

// LargePages reports whether memory is in large pages.
func LargePages() bool { return false }

// Humble lets every other program go first.
func Humble() {
	_ = windows.SetPriorityClass(windows.CurrentProcess(), windows.IDLE_PRIORITY_CLASS)
}

var getSystemTimes = windows.NewLazySystemDLL("kernel32.dll").NewProc("GetSystemTimes")

// ProcessorTime is how long the processors were idle, and how long they were in all, in
// units of 100 ns since the system started; ok is false where it does not say.
func ProcessorTime() (idle, all uint64, ok bool) {
	var rest, kernel, user windows.Filetime // the kernel's time holds the idle time
	told, _, _ := getSystemTimes.Call(uintptr(unsafe.Pointer(&rest)), uintptr(unsafe.Pointer(&kernel)),
		uintptr(unsafe.Pointer(&user)))
	whole := func(t windows.Filetime) uint64 { return uint64(t.HighDateTime)<<32 | uint64(t.LowDateTime) }
	return whole(rest), whole(kernel) + whole(user), told != 0
}

// Processors is how many threads run at once.
func Processors() int { return runtime.NumCPU() }

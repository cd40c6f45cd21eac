package live

import (
	"errors"
	"unsafe"
)

// Memory is memory that was asked of the system, in pieces of one size, to be given back
// piece by piece. It is never locked: the system may take from it as from any program's.
type Memory struct {
	Pieces [][]uint64
	held   [][]byte
}

// Room is what a system has of memory, in bytes.
type Room struct {
	All, Available uint64
}

// ErrNoMemory: the system gives no memory, or says nothing of how much it has.
var ErrNoMemory = errors.New("the system gives no memory to prove")

// TakeMemory asks for so many bytes in pieces, fewer where the system gives no more.
func TakeMemory(bytes, piece uint64) (*Memory, error) {
	m := new(Memory)
	for bytes >= piece && piece > 0 {
		b, err := takePiece(int(piece))
		if err != nil {
			break
		}
		m.held = append(m.held, b)
		m.Pieces = append(m.Pieces, unsafe.Slice((*uint64)(unsafe.Pointer(&b[0])), len(b)/8))
		bytes -= piece
	}
	if len(m.Pieces) == 0 {
		return nil, ErrNoMemory
	}
	return m, nil
}

// GiveBack gives one piece back; it must not be used any more.
func (m *Memory) GiveBack(i int) {
	if m.held[i] != nil {
		givePiece(m.held[i])
		m.held[i], m.Pieces[i] = nil, nil
	}
}

// Release gives everything back.
func (m *Memory) Release() {
	for i := range m.held {
		m.GiveBack(i)
	}
}

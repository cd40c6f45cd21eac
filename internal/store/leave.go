package store

import (
	"maps"
	"os"
	"slices"
	"sync"
)

// process is what this program is writing, and what it has written: a program that is stopped says so, and clears what
// it had begun. There is one of it, as there is one process.
var process struct {
	sync.Mutex
	locks map[string]string // the draft that may stand beside each lock that is held
	wrote []string          // files that are there whole, by the names that were given
}

// whole does what is done or not when the program is ended: making a lock or a draft, and taking it away.
func whole(do func()) {
	process.Lock()
	defer process.Unlock()
	if process.locks == nil {
		process.locks = make(map[string]string)
	}
	do()
}

func written(path string) {
	whole(func() {
		if !slices.Contains(process.wrote, path) {
			process.wrote = append(process.wrote, path)
		}
	})
}

// Leave clears the drafts and locks of writes that are under way, for a program that ends at once, and returns the
// files that it wrote whole before, each once. No write comes to its end afterwards.
func Leave() (wrote []string) {
	process.Lock() // and never unlocks it: who writes waits until the program is gone
	for _, lock := range slices.Sorted(maps.Keys(process.locks)) {
		_ = os.Remove(process.locks[lock])
		_ = os.Remove(lock)
	}
	return process.wrote
}

// Command epitome reads what memory a machine holds and how it may grow.
package main

import (
	"os"
	"runtime/debug"

	"epitome/internal/cli"
)

// memoryLimit is what the collector works to keep the program within, in bytes:
// benches have small machines. It is no bound; those stand where things are read.
const memoryLimit = 104 << 20

// collectAt is how much the heap grows before the collector runs, in per cent: a command
// lives for a fraction of a second, and ends before most of its garbage is worth a look.
const collectAt = 400

func main() {
	debug.SetMemoryLimit(memoryLimit)
	debug.SetGCPercent(collectAt)
	os.Exit(cli.Main(os.Args[1:], os.Stdin, os.Stdout, os.Stderr))
}

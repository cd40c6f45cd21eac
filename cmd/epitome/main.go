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

func main() {
	debug.SetMemoryLimit(memoryLimit)
	os.Exit(cli.Main(os.Args[1:], os.Stdin, os.Stdout, os.Stderr))
}

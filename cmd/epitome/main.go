// Command epitome reads what memory a machine holds and how it may grow.
package main

import (
	"os"

	"epitome/internal/cli"
)

func main() {
	os.Exit(cli.Main(os.Args[1:], os.Stdin, os.Stdout, os.Stderr))
}

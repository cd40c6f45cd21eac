// Command killer runs a program and kills it at a moment of its run: the I-th
// of N moments spread over the time that the program took when it was let run.
// It exits with 0 where it killed the program before its end.
//
//	killer I N PROGRAM ARGS...
package main

import (
	"os"
	"os/exec"
	"strconv"
	"time"
)

// fullRun bounds the time over which moments are spread.
const fullRun = 60 * time.Millisecond

func main() {
	i, err1 := strconv.Atoi(os.Args[1])
	n, err2 := strconv.Atoi(os.Args[2])
	if err1 != nil || err2 != nil || n < 1 {
		os.Exit(2)
	}
	cmd := exec.Command(os.Args[3], os.Args[4:]...)
	cmd.Stdout, cmd.Stderr = os.Stdout, os.Stderr
	if err := cmd.Start(); err != nil {
		os.Exit(2)
	}
	spread := fullRun
	for _, arg := range os.Args[4:] {
		switch arg {
		case "--watch":
			spread = 400 * time.Millisecond
		case "prove":
			spread = 1500 * time.Millisecond
		case "rounds":
			spread = 300 * time.Millisecond
		}
	}
	time.Sleep(spread * time.Duration(i) / time.Duration(n))
	_ = cmd.Process.Kill()
	if err := cmd.Wait(); err == nil || cmd.ProcessState.Exited() {
		os.Exit(1)
	}
}

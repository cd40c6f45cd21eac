package main

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sys/unix"

	"epitome/truth/effort"
)

// silent opens a pseudo-terminal whose other end reads what comes and never
// answers, as a serial line or an automation does.
func silent(t *testing.T) (master, slave *os.File) {
	t.Helper()
	master, err := os.OpenFile("/dev/ptmx", os.O_RDWR, 0)
	if err != nil {
		t.Skipf("no pseudo-terminal here: %v", err)
	}
	t.Cleanup(func() { master.Close() })
	require.NoError(t, unix.IoctlSetPointerInt(int(master.Fd()), unix.TIOCSPTLCK, 0))
	n, err := unix.IoctlGetInt(int(master.Fd()), unix.TIOCGPTN)
	require.NoError(t, err)
	slave, err = os.OpenFile(fmt.Sprintf("/dev/pts/%d", n), os.O_RDWR|unix.O_NOCTTY, 0)
	require.NoError(t, err)
	return master, slave
}

func TestNoStartAsksTheTerminal(t *testing.T) {
	effort.NotShort(t)
	folder := t.TempDir()
	run := func(args ...string) string {
		master, slave := silent(t)
		cmd := exec.Command(os.Args[0], args...)
		cmd.Dir, cmd.Stdin, cmd.Stdout, cmd.Stderr = folder, slave, slave, slave
		cmd.Env = append(os.Environ(), "EPITOME_TEST_MAIN=1", "TERM=xterm-256color", "NO_COLOR=1")
		require.NoError(t, cmd.Start())
		slave.Close()
		done := make(chan string)
		go func() {
			var all []byte
			buf := make([]byte, 4096)
			for {
				n, err := master.Read(buf)
				all = append(all, buf[:n]...)
				if err != nil { // the program's end closed the last handle
					done <- string(all)
					return
				}
			}
		}()
		select {
		case text := <-done:
			_ = cmd.Wait()
			return text
		case <-time.After(20 * time.Second):
			_ = cmd.Process.Kill()
			t.Fatalf("%q waits for an answer of the terminal", args)
			return ""
		}
	}
	run("demo", "-o", "harbour")
	for _, args := range [][]string{{"version"}, {"--help"}, {"brief", filepath.Join("harbour", "gull-14.card")},
		{"convert", "800MHz"}} {
		text := run(args...)
		assert.NotEmpty(t, text, "%q", args)
		assert.NotContains(t, text, "\x1b", "%q", args)
	}
}

package main

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/truth/effort"
)

// unlikeCard is a server with as many modules as sockets, of which no two are alike, as somebody wrote it down.
func unlikeCard(sockets int) string {
	var b strings.Builder
	b.WriteString("epitome-hand: 1\nmachine: {kind: server, processor: AMD EPYC 7302P 16-Core Processor}\nplaces:\n")
	for i := range sockets {
		layout := []string{"4GB 1Rx8", "8GB 1Rx8", "16GB 2Rx8", "8GB 2Rx8", "16GB 1Rx4", "32GB 2Rx4"}[i%6]
		fmt.Fprintf(&b, "  - {name: D%d, channel: %c, attach: socket, takes: DIMM, holds: %s PC4-%s-RA1-11}\n", i, 'A'+i%8,
			layout, []string{"2133P", "2400T", "2666V", "2933Y", "3200AA"}[i/6])
	}
	return b.String()
}

// longList is a price list of so many lines of which no two are alike.
func longList(lines int) string {
	var b strings.Builder
	b.WriteString("sku,description,price,quantity\n")
	r := rand.New(rand.NewPCG(1, 1))
	for i := range lines {
		fmt.Fprintf(&b, "S%d,%dGB %dRx%d PC4-%s-RA1-11 lot %d,%d.%02d,%d\n", i, 4<<r.IntN(5), 1+r.IntN(2), 4+4*r.IntN(2),
			[]string{"2133P", "2400T", "2666V", "3200AA"}[r.IntN(4)], r.IntN(1<<20), 20+r.IntN(200), r.IntN(100), r.IntN(9))
	}
	return b.String()
}

// A signal ends every command within a moment, whatever it is doing, and it says what it leaves: no draft, no lock.
func TestASignalEndsWhateverIsDone(t *testing.T) {
	effort.NotShort(t)
	folder := t.TempDir()
	begin := func(args ...string) (*exec.Cmd, *bytes.Buffer) {
		cmd := exec.Command(os.Args[0], args...)
		cmd.Dir = folder
		cmd.Env = append(os.Environ(), "EPITOME_TEST_MAIN=1", "XDG_DATA_HOME="+folder+"/data", "XDG_CONFIG_HOME="+folder)
		var said bytes.Buffer
		cmd.Stdout, cmd.Stderr = &said, &said
		_, err := cmd.StdinPipe() // that nobody writes to, and nobody closes
		require.NoError(t, err)
		require.NoError(t, cmd.Start())
		return cmd, &said
	}
	require.NoError(t, os.WriteFile(filepath.Join(folder, "unlike.yaml"), []byte(unlikeCard(16)), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(folder, "list.csv"), []byte(longList(60_000)), 0o644))
	for _, args := range [][]string{{"intake", "--hand", "unlike.yaml", "-o", "unlike.card"},
		{"demo", "-o", "school", "--school", "200"}} {
		cmd, said := begin(args...)
		require.NoError(t, cmd.Wait(), said.String())
	}
	for _, line := range []string{"stock check list.csv", "propose unlike.card --reach 512GB --stock list.csv",
		"visit unlike.card --no-questions --stock list.csv", "rounds school/cards --stock school/list.csv --reach 16GB",
		"rounds school/cards --stock list.csv --reach 16GB", "need unlike.card --watch 60s --every 200ms --use office",
		"prove unlike.card --memory 256MB --for 60s", "intake --by-hand -o by-hand.card", "demo -o other --school 3000"} {
		cmd, said := begin(strings.Fields(line)...)
		for i := 0; i < 8 && (i == 0 || ticksOf(cmd.Process.Pid) < 2); i++ { // on a busy machine it may not have begun
			time.Sleep(250 * time.Millisecond)
		}
		if strings.HasPrefix(line, "demo") { // nor be writing
			require.Eventually(t, func() bool { _, err := os.Stat(filepath.Join(folder, "other")); return err == nil },
				10*time.Second, 5*time.Millisecond)
		}
		require.NoError(t, cmd.Process.Signal(syscall.SIGTERM), "%s ended before: %s", line, said)
		ended := make(chan error, 1)
		began := time.Now()
		go func() { ended <- cmd.Wait() }()
		select {
		case <-ended:
			t.Logf("%v: %s", time.Since(began).Round(time.Millisecond), line)
		case <-time.After(15 * time.Second):
			_ = cmd.Process.Kill()
			t.Fatalf("%s does not end", line)
		}
		assert.Contains(t, []int{0, 1, 4}, cmd.ProcessState.ExitCode(), "%s: %s", line, said)
		assert.NotEmpty(t, said.String(), line)
		if cmd.ProcessState.ExitCode() == 1 && !strings.HasPrefix(line, "rounds") {
			assert.Contains(t, said.String(), "stopped", line)
		}
		require.NoError(t, filepath.WalkDir(folder, func(path string, d os.DirEntry, err error) error {
			if !strings.HasSuffix(path, ".epitome-watch") { // a journal, which the next command takes in
				assert.NotContains(t, filepath.Base(path), ".epitome-", "%s left it", line)
			}
			return err
		}))
	}
}

// ticksOf is how many hundredths of a second a process has worked.
func ticksOf(pid int) (n int) {
	stat, _ := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	_, fields, _ := strings.Cut(string(stat), ") ")
	for i, f := range strings.Fields(fields) {
		if i == 11 || i == 12 { // utime and stime, proc(5)
			ticks, _ := strconv.Atoi(f)
			n += ticks
		}
	}
	return n
}

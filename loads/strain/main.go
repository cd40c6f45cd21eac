//go:build linux

// Command strain puts a machine under one kind of load while another program
// watches it: it makes the recorded series that the tests of core/need tell
// apart. Run it where nothing else suffers, in a virtual machine of its own.
//
//	strain -load memory -zram 256 -- epitome need bench.card --watch 60s
package main

import (
	"encoding/binary"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"syscall"
	"time"
	"unsafe"
)

func main() {
	load := flag.String("load", "idle", "memory, disk, cpu or idle")
	limit := flag.Int("mb", 600, "memory: eat up to so many MB")
	device := flag.String("device", "/dev/vda", "disk: read this device")
	zram := flag.Int("zram", 0, "set up compressed swap of so many MB first")
	keep := flag.String("keep", "", "copy this file into the current folder when the program has ended")
	worker := flag.Bool("worker", false, "do the load itself, for ever")
	flag.Parse()
	if flag.NArg() == 0 {
		fail("name the program to run meanwhile, behind --")
	}
	if *zram > 0 && !*worker {
		if err := swapOn(*zram); err != nil {
			fail("swap: %v", err)
		}
	}
	if *worker {
		work(*load, *limit, *device)
	}
	// The load runs in a process of its own: where memory runs out, it is the
	// one to be killed.
	self, err := os.Executable()
	if err != nil {
		fail("%v", err)
	}
	w := exec.Command(self, "-worker", "-load", *load, "-mb", fmt.Sprint(*limit), "-device", *device, "--", "worker")
	w.Stderr = os.Stderr
	if err := w.Start(); err != nil {
		fail("%v", err)
	}
	defer func() { _ = w.Process.Kill() }()
	c := exec.Command(flag.Arg(0), flag.Args()[1:]...)
	c.Stdout, c.Stderr = os.Stdout, os.Stderr
	if err := c.Run(); err != nil {
		fmt.Fprintf(os.Stderr, "strain: %v\n", err)
	}
	if *keep == "" {
		return
	}
	_ = w.Process.Kill() // give the memory back before anything else is wanted
	data, err := os.ReadFile(*keep)
	if err == nil {
		err = os.WriteFile(filepath.Base(*keep), data, 0o644)
	}
	if err != nil {
		fail("%v", err)
	}
}

// work does one kind of load and never returns.
func work(load string, limit int, device string) {
	switch load {
	case "memory":
		eat(limit)
	case "disk":
		for range 3 {
			go read(device)
		}
		read(device)
	case "cpu":
		for range 2*runtime.NumCPU() - 1 {
			go burn()
		}
		burn()
	case "idle":
		select {}
	default:
		fail("-load %s: memory, disk, cpu or idle", load)
	}
}

func fail(format string, args ...any) {
	fmt.Fprintf(os.Stderr, "strain: "+format+"\n", args...)
	os.Exit(1)
}

// eat takes 8 MB more every half second and keeps touching all of it, as
// programs in use do.
func eat(limit int) {
	var held [][]byte
	for step := time.NewTicker(500 * time.Millisecond); ; {
		if len(held)*8 < limit {
			block := make([]byte, 8<<20)
			for i := 0; i < len(block); i += 8 {
				binary.LittleEndian.PutUint64(block[i:], rand.Uint64()>>uint(i%48))
			}
			held = append(held, block)
		}
		for touched := false; !touched; {
			for range 2000 {
				block := held[rand.IntN(len(held))]
				block[rand.IntN(len(block))]++
			}
			select {
			case <-step.C:
				touched = true
			default:
			}
		}
	}
}

// read goes through a device in large pieces from random places, through the
// page cache.
func read(device string) {
	f, err := os.Open(device)
	if err != nil {
		fail("%v", err)
	}
	size, err := f.Seek(0, 2)
	if err != nil || size < 1<<20 {
		fail("%s: %d bytes, %v", device, size, err)
	}
	piece := make([]byte, 256<<10)
	for {
		_, _ = f.ReadAt(piece, rand.Int64N(size-int64(len(piece))))
	}
}

func burn() {
	for x := uint64(1); ; x = x*6364136223846793005 + 1 {
		if x == 0 {
			return
		}
	}
}

// swapOn sets up /dev/zram0 as swap: size, the header that mkswap writes, and
// the system call.
func swapOn(mb int) error {
	if err := os.WriteFile("/sys/block/zram0/disksize", fmt.Appendf(nil, "%dM", mb), 0); err != nil {
		return err
	}
	header := make([]byte, 4096)
	binary.LittleEndian.PutUint32(header[1024:], 1)                    // version
	binary.LittleEndian.PutUint32(header[1028:], uint32(mb)<<20>>12-1) // last page
	copy(header[4086:], "SWAPSPACE2")
	f, err := os.OpenFile("/dev/zram0", os.O_WRONLY, 0)
	if err != nil {
		return err
	}
	defer f.Close()
	if _, err := f.WriteAt(header, 0); err != nil {
		return err
	}
	name := []byte("/dev/zram0\x00")
	if _, _, errno := syscall.Syscall(syscall.SYS_SWAPON, uintptr(unsafe.Pointer(&name[0])), 0, 0); errno != 0 {
		return errno
	}
	return nil
}

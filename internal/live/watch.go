package live

import (
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"epitome/core/need"
)

// A Sampler looks at the kernel's memory figures again and again. It holds its
// files open and reads them anew from their beginning, so that a day of
// looking costs next to nothing.
type Sampler struct {
	files [len(watched)]*os.File // nil where the kernel has none
	start time.Time
	buf   [len(watched)][]byte
}

// watched are the kernel's texts, in the order of Sampler.buf.
var watched = [6]string{"proc/meminfo", "proc/vmstat", "proc/pressure/memory", "proc/pressure/io",
	"proc/pressure/cpu", "proc/stat"}

// NewSampler opens a system tree, "/" for this machine. It fails where the
// tree shows no memory figures at all.
func NewSampler(folder string, now time.Time) (*Sampler, error) {
	root, err := openRoot(folder)
	if err != nil {
		return nil, err
	}
	defer root.Close()
	s := &Sampler{start: now}
	for i, name := range watched {
		if f, err := root.Open(name); err == nil {
			s.files[i] = f
			s.buf[i] = make([]byte, 16<<10)
		}
	}
	if _, ok := s.Sample(now).Get(need.Total); !ok {
		s.Close()
		return nil, fmt.Errorf("%s shows no memory figures (proc/meminfo): watching works on a running Linux system; "+
			"elsewhere give --use, or collect an OperatingSystem object", folder)
	}
	return s, nil
}

// Close lets the files go.
func (s *Sampler) Close() {
	for _, f := range s.files {
		if f != nil {
			f.Close()
		}
	}
}

// Sample takes one look. What the kernel does not show is missing in it.
func (s *Sampler) Sample(now time.Time) need.Sample {
	var texts [len(watched)][]byte
	for i, f := range s.files {
		if f == nil {
			continue
		}
		// No text comes near the buffer's size; one that did would be cut, and a
		// cut text yields what was there.
		n, err := f.ReadAt(s.buf[i], 0)
		if err == nil || errors.Is(err, io.EOF) {
			texts[i] = s.buf[i][:n]
		}
	}
	// Sub uses the monotonic clock; rounding it off leaves the wall clock's difference.
	sample := need.NewSample(now.Sub(s.start), now.Round(0).Sub(s.start.Round(0)))
	return sample.Read(need.Texts{MemInfo: texts[0], VMStat: texts[1], Memory: texts[2], Disk: texts[3], CPU: texts[4],
		Stat: texts[5]})
}

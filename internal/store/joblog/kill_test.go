package joblog_test

import (
	"bufio"
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/internal/store/joblog"
	"epitome/truth/effort"
)

// A bench is this test's program run again: it opens so many jobs, notes a step on each, and
// prints a job's number when both were reported done.
func TestMain(m *testing.M) {
	if setting := os.Getenv("EPITOME_BENCH"); setting != "" {
		many, _ := strconv.Atoi(os.Getenv("EPITOME_BENCH_JOBS"))
		if err := work(setting, many); err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		return
	}
	os.Exit(m.Run())
}

func work(setting string, many int) error {
	var l *joblog.Log
	now := func() (bench.JobSummary, error) { return gull().Summary, nil }
	// retried does a step again where the server went away, until it comes back. Nothing of a
	// step that failed was written, but for one whose answer alone was lost.
	retried := func(step func() error) error {
		for began := time.Now(); ; time.Sleep(20 * time.Millisecond) {
			err := func() (err error) {
				if l == nil {
					if l, err = joblog.Open(setting); err != nil {
						return err
					}
				}
				return step()
			}()
			away := errors.Is(err, joblog.ErrAway) || errors.Is(err, joblog.ErrUnsure)
			if err == nil || !away || time.Since(began) > 30*time.Second {
				return err
			}
		}
	}
	for range many {
		number := ""
		if err := retried(func() (err error) { number, err = l.Begin(2026, gull(), 0); return err }); err != nil {
			return err
		}
		if err := retried(func() error { return l.Note(number, "a.card", did("step"), now) }); err != nil {
			return err
		}
		fmt.Println(number)
	}
	return nil
}

// run starts a bench and returns the numbers that it reports, until it ends or is killed
// after a time.
func run(t *testing.T, setting string, many int, kill time.Duration) (numbers []string, ended error) {
	self, err := os.Executable()
	require.NoError(t, err)
	cmd := exec.Command(self)
	cmd.Env = append(os.Environ(), "EPITOME_BENCH="+setting, fmt.Sprint("EPITOME_BENCH_JOBS=", many))
	var said strings.Builder
	cmd.Stderr = &said
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	if kill > 0 {
		time.AfterFunc(kill, func() { _ = cmd.Process.Kill() })
	}
	for lines := bufio.NewScanner(out); lines.Scan(); {
		if _, _, err := bench.ParseJobNumber(lines.Text()); err == nil {
			numbers = append(numbers, lines.Text())
		}
	}
	if ended = cmd.Wait(); ended != nil {
		ended = fmt.Errorf("%w: %s", ended, said.String())
	}
	return numbers, ended
}

// whole checks that every job that was reported is there, with its step, and none twice; and
// that no job is half there.
func whole(t *testing.T, setting string, reported []string) {
	l := opened(t, setting)
	list, err := l.Jobs(bench.JobFilter{})
	require.NoError(t, err)
	there := make(map[string]bool)
	for _, j := range list {
		there[j.Number] = true
		assert.Equal(t, gull().Title, j.Title)
	}
	seen := make(map[string]bool)
	for _, number := range reported {
		assert.True(t, there[number], "%s was reported done, and is lost", number)
		assert.False(t, seen[number], "%s was given twice", number)
		seen[number] = true
		j, err := l.Job(number)
		require.NoError(t, err)
		assert.GreaterOrEqual(t, len(j.Events), 1, "the step on %s was reported done", number)
	}
}

func TestNothingReportedIsLostWhenAProgramIsKilled(t *testing.T) {
	effort.NotShort(t)
	kills := effort.Cases(200)
	engines(t, func(t *testing.T, setting string) {
		opened(t, setting)
		var reported []string
		midway := 0
		// How long it takes to get to work depends on the machine, and on what else it does.
		began := time.Now()
		first, err := run(t, setting, 1, 0)
		require.NoError(t, err)
		reported = append(reported, first...)
		start := time.Since(began)
		for n := range kills {
			numbers, err := run(t, setting, 50, start/2+start*time.Duration(n%40)/20)
			reported = append(reported, numbers...)
			if err != nil && len(numbers) > 0 {
				midway++
			}
		}
		whole(t, setting, reported)
		assert.Greater(t, midway, kills/4, "too few were killed at work for the test to tell anything")
		t.Logf("%d of %d were killed at work, %d jobs reported", midway, kills, len(reported))
	})
}

func TestTwoProcessesWorkThroughFiveHundredJobs(t *testing.T) {
	effort.NotShort(t)
	engines(t, func(t *testing.T, setting string) {
		each := effort.Cases(250)
		reported := benches(t, setting, 2, each, nil)
		assert.Len(t, reported, 2*each)
		whole(t, setting, reported)
		n, events, _, err := opened(t, setting).Count()
		require.NoError(t, err)
		assert.Equal(t, []int{2 * each, 2 * each}, []int{n, events})
	})
}

// benches runs so many at once, and something beside them.
func benches(t *testing.T, setting string, many, each int, beside func()) (reported []string) {
	var all sync.WaitGroup
	var mutex sync.Mutex
	for range many {
		all.Go(func() {
			numbers, err := run(t, setting, each, 0)
			assert.NoError(t, err)
			mutex.Lock()
			defer mutex.Unlock()
			reported = append(reported, numbers...)
		})
	}
	if beside != nil {
		beside()
	}
	all.Wait()
	return reported
}

func TestAServerThatIsStoppedUnderLoadLosesNothing(t *testing.T) {
	control := strings.Fields(os.Getenv("EPITOME_TEST_POSTGRES_CONTROL"))
	setting := server(t)
	if len(control) == 0 {
		t.Skip("nothing says how the server is stopped; scripts/withpostgres does")
	}
	opened(t, setting)
	stops := 0
	reported := benches(t, setting, 2, 400, func() {
		for range 6 {
			time.Sleep(time.Duration(50+rand.IntN(150)) * time.Millisecond)
			restart := exec.Command(control[0], append(control[1:], "-m", "immediate", "restart")...)
			require.NoError(t, restart.Run())
			stops++
		}
	})
	assert.Len(t, reported, 800)
	whole(t, setting, reported)
	t.Logf("%d stops", stops)
}

func BenchmarkOpenAndNote(b *testing.B) {
	for _, of := range []string{"file", "server"} {
		b.Run(of, func(b *testing.B) {
			setting := filepath.Join(b.TempDir(), "jobs.db")
			if of == "server" {
				setting = server(b)
			}
			l := opened(b, setting)
			number, err := l.Begin(2026, gull(), 0)
			require.NoError(b, err)
			now := func() (bench.JobSummary, error) { return gull().Summary, nil }
			for b.Loop() {
				require.NoError(b, l.Note(number, "a.card", did("step"), now))
			}
		})
	}
}

package joblog_test

import (
	"errors"
	"fmt"
	"path/filepath"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/internal/store/joblog"
)

var day = time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)

func TestARoundIsWorkedOnOnceByAllHostsTogether(t *testing.T) {
	setting := server(t)
	const parts = 40
	var did [parts]atomic.Int64
	var hosts sync.WaitGroup
	came := make([][]string, 3)
	for h := range came {
		l := opened(t, setting)
		hosts.Go(func() {
			s, err := l.Shared("spring", "sum", day)
			if !assert.NoError(t, err) {
				return
			}
			for _, doing := range []string{"first", "second"} {
				assert.NoError(t, s.Do(doing, parts, func(part int) ([]byte, error) {
					did[part].Add(1)
					time.Sleep(2 * time.Millisecond)
					return fmt.Appendf(nil, "%s %d", doing, part), nil
				}, func(part int, text []byte) error {
					assert.Equal(t, fmt.Sprintf("%s %d", doing, part), string(text))
					came[h] = append(came[h], string(text))
					return nil
				}))
			}
		})
	}
	hosts.Wait()
	for part := range did {
		assert.EqualValues(t, 2, did[part].Load(), "part %d, once for each thing that is done", part)
	}
	for _, list := range came {
		assert.Len(t, list, 2*parts)
		assert.Equal(t, came[0], list, "every host gets all of it, in order")
	}
}

func TestAPartThatOneHostGivesUpIsDoneByAnother(t *testing.T) {
	setting := server(t)
	broken, err := opened(t, setting).Shared("spring", "sum", day)
	require.NoError(t, err)
	gaveUp := errors.New("the host was stopped")
	require.ErrorIs(t, broken.Do("it", 5, func(part int) ([]byte, error) {
		if part == 2 {
			return nil, gaveUp
		}
		return []byte("broken"), nil
	}, func(int, []byte) error { return nil }), gaveUp)
	whole, err := opened(t, setting).Shared("spring", "sum", day)
	require.NoError(t, err)
	var done, came []int
	var mu sync.Mutex
	require.NoError(t, whole.Do("it", 5, func(part int) ([]byte, error) {
		mu.Lock()
		defer mu.Unlock()
		done = append(done, part)
		return []byte("whole"), nil
	}, func(part int, _ []byte) error {
		came = append(came, part)
		return nil
	}))
	assert.Contains(t, done, 2)
	assert.Equal(t, []int{0, 1, 2, 3, 4}, came)
}

func TestARoundIsOfTheSameCardsForAll(t *testing.T) {
	setting := server(t)
	l := opened(t, setting)
	_, err := l.Shared("spring", "sum", day)
	require.NoError(t, err)
	_, err = l.Shared("spring", "another", day)
	require.ErrorIs(t, err, joblog.ErrRound)
	_, err = l.Shared("summer", "another", day)
	require.NoError(t, err)
	_, err = l.Shared("spring", "another", day.AddDate(0, 1, 0))
	require.NoError(t, err, "one that is old has gone")
}

func TestAFileSharesNoRound(t *testing.T) {
	_, err := opened(t, filepath.Join(t.TempDir(), "jobs.db")).Shared("spring", "sum", day)
	require.ErrorIs(t, err, joblog.ErrSetting)
	require.ErrorContains(t, err, "database server")
}

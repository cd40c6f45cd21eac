//go:build linux || windows

package live_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/internal/live"
	"epitome/truth/effort"
)

// Memory comes in pieces of the size that was asked for, never more than was asked, empty,
// and each is a place of its own; it goes back piece by piece.
func TestMemoryIsTakenAndGivenBack(t *testing.T) {
	effort.NotShort(t)
	const piece = 2 << 20
	m, err := live.TakeMemory(7<<20, piece)
	require.NoError(t, err)
	defer m.Release()
	require.Len(t, m.Pieces, 3, "three whole pieces fit")
	for i, p := range m.Pieces {
		require.Len(t, p, piece/8)
		for _, v := range p {
			require.Zero(t, v)
		}
		p[0], p[len(p)-1] = uint64(i)+1, uint64(i)+1
	}
	for i, p := range m.Pieces {
		assert.Equal(t, uint64(i)+1, p[0])
		assert.Equal(t, uint64(i)+1, p[len(p)-1])
	}
	m.GiveBack(2)
	assert.Nil(t, m.Pieces[2])
	m.GiveBack(2) // twice does no harm
	assert.Equal(t, uint64(1), m.Pieces[0][0])
	m.Release()
	assert.Nil(t, m.Pieces[0])

	_, err = live.TakeMemory(1<<20, piece)
	assert.ErrorIs(t, err, live.ErrNoMemory, "less than a piece")
	_, err = live.TakeMemory(1<<20, 0)
	assert.ErrorIs(t, err, live.ErrNoMemory)
}

func TestTheSystemSaysWhatItHas(t *testing.T) {
	room, err := live.MemoryRoom()
	require.NoError(t, err)
	assert.Positive(t, room.Available)
	assert.GreaterOrEqual(t, room.All, room.Available)
	idle, all, ok := live.ProcessorTime()
	require.True(t, ok)
	assert.GreaterOrEqual(t, all, idle)
	assert.Positive(t, live.Processors())
}

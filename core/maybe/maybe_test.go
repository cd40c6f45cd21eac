package maybe_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/maybe"
)

func TestUnknownIsAValueOfItsOwn(t *testing.T) {
	var none maybe.Value[int]
	assert.Equal(t, maybe.None[int](), none, "the zero value is unknown")
	assert.NotEqual(t, maybe.Just(0), none, "a known nought is not unknown")
	_, ok := none.Get()
	assert.False(t, ok)
	assert.Equal(t, 7, none.Or(7))
	assert.Equal(t, 0, maybe.Just(0).Or(7))
	assert.Equal(t, none, maybe.If(3, false))
	assert.Equal(t, maybe.Just(3), maybe.If(3, true))
}

func TestUnknownIsNullInJSON(t *testing.T) {
	out, err := json.Marshal(map[string]any{"a": maybe.None[string](), "b": maybe.Just(""), "c": maybe.Just(0)})
	require.NoError(t, err)
	assert.JSONEq(t, `{"a":null,"b":"","c":0}`, string(out))
}

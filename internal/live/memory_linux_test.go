package live

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What a control group leaves is the least of all groups on the way up, of either version; none has a limit of "max".
func TestAControlGroupLimitsTheRoom(t *testing.T) {
	for name, c := range map[string]struct {
		files map[string]string
		left  uint64
		ok    bool
	}{
		"none": {map[string]string{}, 0, false},
		"no limit": {map[string]string{"/proc/self/cgroup": "0::/a\n",
			"/sys/fs/cgroup/a/memory.max": "max\n"}, 0, false},
		"its own": {map[string]string{"/proc/self/cgroup": "0::/a\n",
			"/sys/fs/cgroup/a/memory.max":     "1000\n",
			"/sys/fs/cgroup/a/memory.current": "300\n"}, 700, true},
		"one above": {map[string]string{"/proc/self/cgroup": "0::/a/b\n",
			"/sys/fs/cgroup/a/b/memory.max":     "1000\n",
			"/sys/fs/cgroup/a/b/memory.current": "300\n",
			"/sys/fs/cgroup/a/memory.max":       "800\n",
			"/sys/fs/cgroup/a/memory.current":   "700\n"}, 100, true},
		"the root's": {map[string]string{"/proc/self/cgroup": "0::/\n",
			"/sys/fs/cgroup/memory.max":     "500",
			"/sys/fs/cgroup/memory.current": "900"}, 0, true},
		"the older": {map[string]string{"/proc/self/cgroup": "4:cpu,memory:/x\n0::/\n",
			"/sys/fs/cgroup/memory/x/memory.limit_in_bytes": "64",

			"/sys/fs/cgroup/memory/x/memory.usage_in_bytes": "4"}, 60, true},
		"damaged": {map[string]string{"/proc/self/cgroup": "what?\n::\n0::../../etc\n"}, 0, false},
	} {
		left, ok := groupRoom(func(path string) ([]byte, error) {
			text, there := c.files[path]
			if !there {
				return nil, errors.New("not there")
			}
			return []byte(text), nil
		})
		assert.Equal(t, c.ok, ok, name)
		assert.Equal(t, c.left, left, name)
	}
}

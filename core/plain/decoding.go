package plain

import (
	"strings"

	"epitome/core/pattern"
)

// noField is how the YAML library says that a key is not one of those that are read.
var noField = pattern.Of(`field (\S+) not found in type \S+`)

// Decoding says what the YAML library found wrong, without words of its own: "line 3: there
// is no key "colour" here".
func Decoding(err error) string {
	text := strings.TrimPrefix(err.Error(), "yaml: ")
	text = strings.ReplaceAll(text, "unmarshal errors:\n  ", "")
	return noField().ReplaceAllString(text, `there is no key "$1" here`)
}

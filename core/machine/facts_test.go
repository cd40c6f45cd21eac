package machine_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
	"epitome/core/machine"
)

// Each fact has its words once, and what can be stated says what is accepted.
func TestTheTableOfAMachinesFacts(t *testing.T) {
	m := machine.Machine{Processor: fact.Known("Petrel P5"), Chipset: fact.Known("HB-7"), Kind: fact.Known(machine.Laptop)}
	p := machine.Place{Name: "A1", Attach: fact.Known(machine.Socket)}
	seen, keys := make(map[string]bool), make(map[string]bool)
	shown := make(map[string]string)
	for _, r := range machine.Rows() {
		word := string(r.Topic)
		if r.Of == machine.OfPlace {
			word += " of"
		}
		assert.False(t, seen[word], "%s stands twice", word)
		seen[word] = true
		if r.JSON != "" {
			key := strings.Repeat("place.", int(r.Of)/2) + r.JSON
			assert.False(t, keys[key], "%s is the key of two", key)
			keys[key] = true
		}
		asked := r.Observe.Question != "" || r.Observe.Accept != nil
		assert.True(t, r.Observe.Can() || !asked, "%s: asked and not taken", word)
		for _, v := range r.Observe.Values {
			if r.Observe.Accept != nil {
				assert.NoError(t, r.Observe.Accept(v), "%s=%s", word, v)
			}
		}
		if r.Observe.Accept != nil {
			assert.Error(t, r.Observe.Accept("boat"), word)
		}
		if s, ok := r.Show(&m, &p); ok {
			shown[word] = s.Text
			assert.Equal(t, r.JSON, s.Key, word)
		}
	}
	assert.Equal(t, []string{"Petrel P5", "HB-7", "laptop", "socket", ""},
		[]string{shown["processor"], shown["chipset"], shown["kind"], shown["attach of"], shown["board"]})
	_, ok := machine.RowOf("attach", false)
	assert.False(t, ok, "a machine has no attach")
	assert.Equal(t, "look whether A1 is a socket or chips on the board",
		machine.Subject{Topic: machine.AboutAttach, Place: "A1"}.Settles())
	assert.Equal(t, "open the machine and count its sockets", machine.Subject{Topic: "sockets"}.Settles())
}

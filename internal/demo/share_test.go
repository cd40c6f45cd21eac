package demo_test

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/redact"
	"epitome/internal/demo"
	"epitome/internal/live"
	"epitome/internal/view"
)

// findings is a machine's page for programs, without the words of its claims
// and with serial numbers by whether there is one.
func findings(t *testing.T, c card.Card) any {
	t.Helper()
	b := bench.New(c, catalogue.Catalogue{})
	var text bytes.Buffer
	require.NoError(t, view.WriteJSON(&text, view.BriefJSON(b.Machine(), b.Farthest().Size, b.Free())))
	var v any
	require.NoError(t, json.Unmarshal(text.Bytes(), &v))
	return bared(v, "")
}

func bared(v any, key string) any {
	switch x := v.(type) {
	case map[string]any:
		delete(x, "source")
		delete(x, "says")
		delete(x, "sources")
		if serial, ok := x["value"].(string); ok && key == "serial" {
			x["value"] = serial != ""
		}
		for k, inner := range x {
			x[k] = bared(inner, k)
		}
	case []any:
		for i, inner := range x {
			x[i] = bared(inner, key)
		}
	}
	return v
}

// machines are cards of all kinds of machine that the project knows.
func machines(t *testing.T) map[string]card.Card {
	t.Helper()
	all := make(map[string]card.Card)
	folder := t.TempDir()
	for _, m := range append(demo.Machines(), demo.Fitted()) {
		at := filepath.Join(folder, m.Name)
		require.NoError(t, os.Mkdir(at, 0o755))
		for _, f := range m.Files() {
			require.NoError(t, os.WriteFile(filepath.Join(at, f.Name), f.Data, 0o644))
		}
	}
	folders, err := filepath.Glob(filepath.Join(folder, "*"))
	require.NoError(t, err)
	captures, err := filepath.Glob("../../testdata/captures/*/DMI")
	require.NoError(t, err)
	require.NotEmpty(t, captures)
	for _, c := range captures {
		folders = append(folders, filepath.Dir(c))
	}
	for _, f := range folders {
		haul, err := live.Folder(f, time.Unix(0, 0))
		require.NoError(t, err)
		all[filepath.Base(f)] = card.Card{Readings: haul.Readings}
	}
	return all
}

func TestACardToShareReadsAsBefore(t *testing.T) {
	for name, c := range machines(t) {
		c.Readings = append(c.Readings,
			card.Reading{Kind: card.Hand, Source: "/home/jory/hand.yaml",
				Data: []byte("epitome-hand: 1\nby: Jory\nremarks: call Mrs Quay\nmachine: {system: Linux}\nmaximum: {size: " +
					"32GB, from: Mrs Quay's manual}\n")},
			card.Reading{Kind: card.CIM, Source: "cim.json",
				Data: []byte(`{"CreationClassName":"CIM_OperatingSystem","CSName":"JORYS-PC","SerialNumber":"00330-80000",
"TotalVisibleMemorySize":8000000}`)})
		shared, leftOut := redact.Card(c)
		assert.Empty(t, leftOut, name)
		assert.Equal(t, findings(t, c), findings(t, shared), name)
		twice, _ := redact.Card(shared)
		assert.Equal(t, findings(t, shared), findings(t, twice), name)

		secrets := []string{"Jory", "jory", "Mrs Quay", "JORYS-PC", "00330-80000", "HG14-20731", "HT13-00417", "SKA-55210",
			"GBX-71123"}
		for _, p := range bench.New(c, catalogue.Catalogue{}).Machine().Places {
			if p.Module != nil && len(p.Module.Serial.Or("")) > 3 && p.EEPROMAddress != "" {
				secrets = append(secrets, p.Module.Serial.Or(""))
			}
		}
		text, err := shared.Encode()
		require.NoError(t, err)
		for _, r := range shared.Readings {
			text = append(text, r.Data...)
		}
		for _, secret := range secrets {
			assert.NotContains(t, string(text), secret, name)
		}
	}
}

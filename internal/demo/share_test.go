package demo_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/evidence"
	"epitome/core/redact"
	"epitome/internal/demo"
)

func TestACardToShareReadsAsBefore(t *testing.T) {
	for _, m := range demo.Machines() {
		c := card.Card{Title: "Jory's laptop", Readings: []card.Reading{{Kind: card.Hand, Source: "/home/jory/hand.yaml", Data: []byte("epitome-hand: 1\nby: Jory\nremarks: call Mrs Quay\nmachine: {system: Linux}\n")},
			{Kind: card.CIM, Source: "cim.json", Data: []byte(`{"CreationClassName":"CIM_OperatingSystem","CSName":"JORYS-PC","SerialNumber":"00330-80000","TotalVisibleMemorySize":8000000}`)}}}
		for _, f := range m.Files() {
			kind := map[string]card.Kind{"DMI": card.Table, "cpuinfo": card.CPUInfo, "meminfo": card.MemInfo, "pci": card.PCI}[f.Name]
			if strings.HasPrefix(f.Name, "spd-") {
				kind = card.SPD
			}
			if kind != "" {
				c.Readings = append(c.Readings, card.Reading{Kind: kind, Source: f.Name, Data: f.Data})
			}
		}
		before := evidence.Weigh(c, catalogue.Catalogue{})
		shared, leftOut := redact.Card(c)
		assert.Empty(t, leftOut, m.Name)
		text, err := shared.Encode()
		require.NoError(t, err)
		after := evidence.Weigh(shared, catalogue.Catalogue{})
		all := fmt.Sprintf("%+v", after) + string(text)
		for _, r := range shared.Readings {
			all += string(r.Data)
		}
		secrets := []string{"Jory", "jory", "Mrs Quay", "JORYS-PC", "00330-80000", "HG14-20731", "HT13-00417", "SKA-55210", "GBX-71123"}
		for _, p := range before.Places {
			if p.Module != nil && p.Module.Serial.Known() {
				secrets = append(secrets, p.Module.Serial.Or(""))
			}
		}
		for _, secret := range secrets {
			assert.NotContains(t, all, secret, m.Name)
		}
		require.Len(t, after.Places, len(before.Places), m.Name)
		for i, p := range before.Places {
			q := after.Places[i]
			assert.Equal(t, p.EEPROMAddress, q.EEPROMAddress, "%s %s: an EEPROM still belongs to its place", m.Name, p.Name)
			assert.Equal(t, p.Attach.Value, q.Attach.Value, "%s %s", m.Name, p.Name)
			if p.Module != nil {
				assert.Equal(t, p.Module.Capacity.Value, q.Module.Capacity.Value)
				assert.Equal(t, p.Module.Rated.Value, q.Module.Rated.Value)
				assert.Equal(t, p.Module.Described.Checksum, q.Module.Described.Checksum)
			}
		}
		assert.Equal(t, before.Totals.Installed.Value, after.Totals.Installed.Value)
	}
}

package main

import (
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"unicode"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/smbios/compose"
	spdcompose "epitome/core/spd/compose"
	"epitome/truth/effort"
)

// The payloads that foreign text may carry: an escape that clears the screen, a
// clipboard write, the same introduced by a C1 control, an override of the
// writing direction, markup, and a line of its own that looks like ours.
const payload = "\x1b[2J\x1b]52;c;cHduZWQ=\a\u009b31m\u202Egnp.exe\u2066<script>alert(1)</script>\r\nepitome: all " +
	"is well\x00\x7f"

// asYAML writes a text as a double-quoted YAML scalar.
func asYAML(s string) string {
	var b strings.Builder
	b.WriteByte('"')
	for _, r := range s {
		switch {
		case r == '"' || r == '\\':
			b.WriteString("\\" + string(r))
		case r < ' ' || r == 0x7F:
			fmt.Fprintf(&b, `\x%02x`, r)
		case r > 0x7E:
			fmt.Fprintf(&b, `\u%04x`, r)
		default:
			b.WriteRune(r)
		}
	}
	return b.String() + `"`
}

// hostileCard is a card with the payload in every string that a card can hold.
func hostileCard(t *testing.T) []byte {
	p := func(s string) string { return s + strings.ReplaceAll(payload, "\x00", "") }
	device := func(handle uint16, name string, mib uint32) compose.Structure {
		return compose.Device{Handle: handle, Array: 0x1000, MiB: mib, Form: 0x0D, Type: 0x1A, Locator: p(name),
			Speed: 2400, Serial: p("4F21A0" + name), Part: p("MR4S"), Maker: p("Marram")}.Structure()
	}
	table := compose.Table(append(compose.Identity{Maker: p("Halyard"), Product: p("Gull 14"), Serial: p("HG"),
		ChassisKind: 0x0A}.Structures(),
		compose.Array(0x1000, 32<<20, 3), device(0x1100, "A", 8192), device(0x1101, "B", 0),
		compose.Device{Handle: 0x1102, Array: 0x1000, Form: 0x0D, Type: 0x1A, Locator: "C", Speed: 2400}.Structure())...)
	image := spdcompose.DDR4{Ranks: 1, TCK: 833, TAA: 13750, TRCD: 13750, TRP: 13750, TRAS: 32000, TRC: 45750,
		FirstCL: 10, LastCL: 17,
		Identity: spdcompose.Identity{Serial: "01020304", Part: "P\x1b[2J\x9b31m"}}.Bytes()
	y := asYAML(payload)
	hand := "epitome-hand: 1\nby: " + y + "\nmachine: {board: " + y + ", chipset: " + y + ", system: " + y +
		"}\nplaces: [{name: " + y + ", attach: socket}]\nmaximum: {size: 32GB, from: " + y + "}\nremarks: " + y + "\n"
	plan := "epitome-plan: 1\ngoal: " + y + "\ncurrency: " + y + "\nlists: [{name: " + y + ", sha256: " + y +
		"}]\nways:\n  - {number: 1, picks: [" + y + "], put: [{place: C, stick: 8GB 1Rx8 PC4-2400T-SA1-11, sku: " + y +
		"}], buys: [{units: 1, pieces: 1, text: 8GB 1Rx8 PC4-2400T-SA1-11, sku: " + y + ", supplier: " + y + ", price: " +
		y + "}], cost: " + y + "}\n"
	wrong := "epitome-hand: 1\n" + asYAML("k"+payload) + ": 1\n"
	c := card.Card{Title: payload, Readings: []card.Reading{
		{Kind: card.Table, Data: table},
		{Kind: card.SPD, Data: image, Address: payload},
		{Kind: card.SPD, Address: payload, Failure: payload},
		{Kind: card.CPUInfo, Data: []byte("processor\t: 0\nmodel name\t: Petrel" +
			strings.NewReplacer("\r", "", "\n", "").Replace(payload) + "\ncpu family\t: 6\nmodel\t: 1\n")},
		{Kind: card.CIM, Data: []byte(`{"CreationClassName":"CIM_OperatingSystem","Caption":"Lin\u001b[2J\u009b31m\u202eux",
"TotalVisibleMemorySize":8000000}`)},
		{Kind: card.PCI, Data: []byte("a" + strings.NewReplacer("\r", "", "\n", "").Replace(payload) +
			" 8086:a305 060100\nnonsense " + payload + "\n")},
		{Kind: card.Series, Data: []byte("at_ms,total_kib\n0,\x1b[2J\n")},
		{Kind: card.Hand, Data: []byte(hand)},
		{Kind: card.Hand, Data: []byte(wrong)},
		{Kind: card.Plan, Data: []byte(plan)},
		{Kind: card.Outcome, Data: []byte("epitome-outcome: 1\ndate: " + y + "\nresult: " + y + "\nplaces: [{name: " + y +
			"}]\n")},
	}}
	for i := range c.Readings {
		c.Readings[i].Source, c.Readings[i].How = payload, payload
	}
	text, err := c.Encode()
	require.NoError(t, err)
	return text
}

// harmless fails where an output holds what acts on a terminal, markup that was
// not escaped, or a line that foreign text began.
func harmless(t *testing.T, what string, text []byte) {
	t.Helper()
	for _, r := range string(text) {
		if r != '\n' && r != '\t' && (unicode.IsControl(r) || unicode.Is(unicode.Cf, r)) {
			assert.Fail(t, "foreign text came through", "%s: %U in %.400q", what, r, text)
			return
		}
	}
	if strings.HasSuffix(what, "stderr") { // a page may break a line anywhere
		assert.NotContains(t, "\n"+string(text), "\nepitome: all is well", what)
	}
}

func TestForeignTextIsHarmlessWhereverItComesOut(t *testing.T) {
	effort.NotShort(t)
	folder := t.TempDir()
	at := func(name string) string { return filepath.Join(folder, name) }
	put := func(name, text string) {
		require.NoError(t, os.MkdirAll(filepath.Dir(at(name)), 0o755))
		require.NoError(t, os.WriteFile(at(name), []byte(text), 0o644))
	}
	y := asYAML(payload)
	put("a.card", string(hostileCard(t)))
	put("b.card", string(hostileCard(t)))
	put("list.csv", "sku;description;price;currency;condition;quantity;"+
		strings.NewReplacer("\r\n", " ", "\x00", "").Replace(payload)+"\n"+
		"S\x1b[2J\u009b31m\u202E;8GB 1Rx8 PC4-2400T-SA1-11 "+
		"\x1b[2J\u202E;20,00;EUR;new;3;\x1b]52;c;x\a\nX;\x1b[2J;\x1b[2J;\x1b[2J;\x1b[2J;\x1b[2J;\n\"\x1b[2J open;1;2\n")
	put("catalogue/odd.yaml", "epitome-catalogue: 1\nboards:\n  - {maker: "+y+", names: "+y+", maximum: 32GB, basis: "+y+
		"}\n  - {"+y+": 1}\n")
	put("catalogue/\x1b[2J.yaml", "nonsense: [")
	put("config/epitome/settings.yaml", "heading: ["+y+"]\n")
	put("folder/\x1b[2Jfile", "x")
	put("folder/hand.yaml", "epitome-hand: 1\nby: "+y+"\nplaces: [{name: "+y+"}]\n")
	put("policy.yaml", "nonsense: "+y+"\n")
	put("form.yaml", "epitome-hand: 1\nkind: "+y+"\n")
	put("drawer.txt", "8GB 1Rx8 PC4-2400T-SA1-11 "+payload+"\n"+payload+"\n")
	put("round.txt", "a.card\n"+payload+".card\n")

	bad := strings.NewReplacer("\x00", "").Replace(payload)
	commands := [][]string{
		{"brief", "a.card"}, {"brief", "a.card", "--format", "json"}, {"brief", "a.card", "--why"},
		{"brief", "a.card", "--why=" + bad}, {"brief", "a.card", "--redact"},
		{"brief", "a.card", "--map", "map.svg", "--share", "shared.card"}, {"brief", bad},
		{"brief", "a.card", "--format", bad}, {"brief", "a.card", "--map", bad},
		{"ceilings", "a.card"}, {"ceilings", "a.card", "--format", "json"}, {"ceilings", "a.card", "--for", bad},
		{"trial", "a.card", "8GB 1Rx8 PC4-2400T-SA1-11"}, {"trial", "a.card", "8GB DDR4-2400 SO-DIMM " + bad},
		{"trial", "a.card", "8GB DDR4-2400 SO-DIMM " + bad, "--format", "json"},
		{"trial", "a.card", "--pull", bad}, {"trial", "a.card", "--put", bad + "=8GB DDR4-2400"},
		{"trial", "a.card", "--assume", bad}, {"trial", "a.card", "stock:" + bad, "--stock", "list.csv"},
		{"mix", "8GB DDR4-2400 SO-DIMM " + bad, bad}, {"mix", "8GB DDR4-2400 SO-DIMM " + bad, "8GB DDR4-2666 " + bad},
		{"module", "8GB DDR4-2400 SO-DIMM " + bad}, {"module", bad + ".spd"},
		{"propose", "a.card", "--reach", "16GB"}, {"propose", "a.card", "--reach", "16GB", "--stock", "list.csv"},
		{"propose", "a.card", "--reach", "16GB", "--stock", "list.csv", "--format", "json"},
		{"propose", "a.card", "--reach", bad},
		{"propose", "a.card", "--reach", "16GB", "--drawer", "8GB DDR4-2400 SO-DIMM " + bad},
		{"propose", "a.card", "--reach", "16GB", "--stock", bad},
		{"propose", "a.card", "--reach", "16GB", "--stock", "list.csv", "--columns", bad},
		{"propose", "a.card", "--use", bad},
		{"docket", "a.card"}, {"docket", "a.card", "-o", "slip.html"}, {"docket", "a.card", "-o", "slip.txt"},
		{"docket", "a.card", "--job", bad}, {"docket", "a.card", "-o", "slip.pdf"},
		{"docket", "a.card", "8GB DDR4-2400 SO-DIMM " + bad}, {"docket", "a.card", "--paper", bad},
		{"recheck", "a.card", "b.card"}, {"recheck", "a.card", "b.card", "--format", "json", "--dry-run"},
		{"observe", "a.card", bad}, {"observe", "a.card", "kind=" + bad}, {"observe", "a.card", bad + "=1"},
		{"observe", "a.card", "maker=" + bad}, {"observe", "a.card", "attach of " + bad + "=socket"},
		{"observe", "a.card", "--undo"},
		{"need", "a.card", "--use", "browsing"}, {"need", "a.card", "--policy", "policy.yaml"},
		{"need", "a.card", "--series", "list.csv"},
		{"stock", "check", "list.csv"}, {"stock", "check", "list.csv", "--all"},
		{"stock", "check", "list.csv", "--format", "json"}, {"stock", "check", "list.csv", "--clean", "clean.csv"},
		{"catalogue", "list"}, {"catalogue", "check", "catalogue"}, {"catalogue", "show", "--brand", bad},
		{"catalogue", "show", "--board", bad}, {"catalogue", "show", "--pci", bad},
		{"catalogue", "add", "board", "--name", bad, "--basis", bad, "--to", "new.yaml"},
		{"intake", "--from", "folder", "-o", "c.card"}, {"intake", "--from", bad, "-o", "d.card"},
		{"intake", "--hand", "form.yaml", "-o", "e.card"}, {"intake", "--sticker", bad, "-o", "f.card"},
		{"convert", bad}, {"convert", "DDR4-2400", bad}, {"narrow", "--marking", bad}, {"narrow", "--installed-note", bad},
		{"narrow", "--notch", bad}, {bad}, {"--" + bad}, {"version", bad},
		{"jobs", "open", "b.card"}, {"jobs"}, {"jobs", "--format", "json"}, {"jobs", "--machine", bad}, {"jobs", "show", bad},
		{"jobs", "export", "-o", "jobs.jsonl"}, {"jobs", "import", "list.csv"}, {"jobs", "--state", bad}, {"jobs", "taught"},
		{"rounds", "round.txt", "--stock", "list.csv", "--drawer", "drawer.txt"},
		{"rounds", "round.txt", "--stock", "list.csv", "--format", "json"}, {"rounds", "round.txt", "--budget", bad},
		{"rounds", "a.card", "--stock", "list.csv", "-o", "round.csv", "-o", "round.pdf", "--order", "order.csv"},
		{"rounds", bad}, {"rounds", "a.card", "--drawer", bad},
		{"__complete", "trial", "a.card", "--pull", ""},
	}
	for _, args := range commands {
		cmd := exec.Command(os.Args[0], args...)
		cmd.Dir = folder
		cmd.Env = append(os.Environ(), "EPITOME_TEST_MAIN=1", "XDG_CONFIG_HOME="+at("config"),
			"XDG_DATA_HOME="+at("data"), "LANG=C.UTF-8")
		var out, errs strings.Builder
		cmd.Stdout, cmd.Stderr = &out, &errs
		_ = cmd.Run() // any exit code but a crash
		what := fmt.Sprintf("%.80q", args)
		assert.NotContains(t, errs.String(), "goroutine ", what)
		harmless(t, what+" on stdout", []byte(out.String()))
		harmless(t, what+" on stderr", []byte(errs.String()))
	}
	seen := 0
	require.NoError(t, filepath.WalkDir(folder, func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		switch name := filepath.Base(path); name {
		case "map.svg", "slip.html", "slip.txt", "clean.csv", "round.csv", "order.csv", "jobs.jsonl":
			text, err := os.ReadFile(path)
			require.NoError(t, err)
			harmless(t, name, text)
			if name == "map.svg" || name == "slip.html" {
				assert.NotContains(t, string(text), "<script>alert", name)
			}
			seen++
		case "slip.pdf", "round.pdf":
			text, err := os.ReadFile(path)
			require.NoError(t, err)
			assert.NotContains(t, string(text), "\x1b[2J")
			seen++
		}
		return nil
	}))
	assert.Equal(t, 9, seen, "every kind of file was written")
}

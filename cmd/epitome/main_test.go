package main

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/rogpeppe/go-internal/testscript"
	"github.com/santhosh-tekuri/jsonschema/v6"
)

func TestMain(m *testing.M) {
	if os.Getenv("EPITOME_TEST_MAIN") != "" {
		main() // this program itself, for tests that start it without a script
	}
	testscript.Main(recorder{m}, map[string]func(){"epitome": recorded})
}

// TestSessions runs every session at the bench under testdata/script with the
// program itself, on files in a temporary folder.
func TestSessions(t *testing.T) {
	root, err := filepath.Abs("../..")
	if err != nil {
		t.Fatal(err)
	}
	testscript.Run(t, testscript.Params{
		Dir: "testdata/script",
		Setup: func(env *testscript.Env) error {
			env.Setenv("CAPTURES", filepath.Join(root, "testdata", "captures"))
			env.Setenv("SERIES", filepath.Join(root, "testdata", "series"))
			env.Setenv("LANG", "C.UTF-8")
			env.Setenv("XDG_DATA_HOME", filepath.Join(env.WorkDir, "data"))
			env.Setenv("XDG_CONFIG_HOME", filepath.Join(env.WorkDir, "config"))
			env.Setenv("EPITOME_TEST_ERRORS", os.Getenv("EPITOME_TEST_ERRORS"))
			env.Setenv("POSTGRES", os.Getenv("EPITOME_TEST_POSTGRES"))
			return nil
		},
		// [postgres] holds where a test server is there: see scripts/withpostgres.
		Condition: func(name string) (bool, error) {
			if name == "postgres" {
				return os.Getenv("EPITOME_TEST_POSTGRES") != "", nil
			}
			return false, fmt.Errorf("unknown condition %q", name)
		},
		Cmds: map[string]func(*testscript.TestScript, bool, []string){
			"schema": func(ts *testscript.TestScript, neg bool, args []string) { schema(ts, root, neg, args) },
			"exit":   exit,
		},
	})
}

// schema NAME FILE validates JSON against docs/schema/NAME.schema.json.
func schema(ts *testscript.TestScript, root string, neg bool, args []string) {
	if neg || len(args) != 2 {
		ts.Fatalf("usage: schema NAME FILE")
	}
	compiler := jsonschema.NewCompiler()
	compiled, err := compiler.Compile(filepath.Join(root, "docs", "schema", args[0]+".schema.json"))
	ts.Check(err)
	value, err := jsonschema.UnmarshalJSON(bytes.NewReader([]byte(ts.ReadFile(args[1]))))
	ts.Check(err)
	ts.Check(compiled.Validate(value))
}

// exit CODE ARGS... runs the program and wants just that exit code.
func exit(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) < 2 {
		ts.Fatalf("usage: exit CODE ARGS...")
	}
	err := ts.Exec("epitome", args[1:]...)
	got := "0"
	if err != nil {
		var coded interface{ ExitCode() int }
		if !asExit(err, &coded) {
			ts.Fatalf("epitome did not run: %v", err)
		}
		got = string(rune('0' + coded.ExitCode()))
	}
	if got != args[0] {
		ts.Fatalf("exit code %s, want %s", got, args[0])
	}
}

func asExit(err error, target *interface{ ExitCode() int }) bool {
	coded, ok := err.(interface{ ExitCode() int })
	*target = coded
	return ok
}

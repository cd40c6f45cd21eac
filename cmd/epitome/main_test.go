package main

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/rogpeppe/go-internal/testscript"
	"github.com/santhosh-tekuri/jsonschema/v6"

	"epitome/internal/cli"
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
		Dir: filepath.Join(root, "cmd", "epitome", "testdata", "script"), // a run inside changes the folder
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
			"run":    func(ts *testscript.TestScript, neg bool, args []string) { expect(ts, neg, "0", args) },
			"demo":   laid,
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

// inside guards what a process has once: its folder and its environment.
var inside sync.Mutex

// settings are the variables that the program reads.
var settings = []string{
	"HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "LANG", "LC_ALL", "LC_CTYPE", "NO_COLOR", "TERM", "TMPDIR",
}

// expect is a session's line "run ARGS...": the program in the test's own process, since starting one takes longer
// than most of what it does. Where a process is the point, a session has "exec epitome".
func expect(ts *testscript.TestScript, neg bool, want string, args []string) {
	if got := within(ts, args); (got == want) == neg {
		ts.Fatalf("exit code %s, want %s", got, map[bool]string{false: want, true: "another"}[neg])
	}
}

func within(ts *testscript.TestScript, args []string) (code string) {
	inside.Lock()
	defer inside.Unlock()
	for _, name := range settings {
		was := os.Getenv(name)
		ts.Check(os.Setenv(name, ts.Getenv(name)))
		defer func() { ts.Check(os.Setenv(name, was)) }()
	}
	here, err := os.Getwd()
	ts.Check(err)
	ts.Check(os.Chdir(ts.MkAbs(".")))
	defer func() { ts.Check(os.Chdir(here)) }()
	out, errs := ts.Stdout(), ts.Stderr()
	return strconv.Itoa(recording(args, strings.NewReader(""), out, errs))
}

// exit CODE ARGS... runs the program in the test's own process and wants just that exit code.
func exit(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) < 2 {
		ts.Fatalf("usage: exit CODE ARGS...")
	}
	expect(ts, false, args[0], args[1:])
}

// laid runs a session's line: demo FOLDER lays down what "epitome demo -o FOLDER" does: it is made once, and copied.
func laid(ts *testscript.TestScript, neg bool, args []string) {
	if neg || len(args) != 1 {
		ts.Fatalf("usage: demo FOLDER")
	}
	made.Do(func() {
		inside.Lock()
		defer inside.Unlock()
		var said bytes.Buffer
		folder, err := os.MkdirTemp("", "demo")
		ts.Check(err)
		if code := cli.Main([]string{"demo", "-o", filepath.Join(folder, "harbour")}, strings.NewReader(""), &said,
			&said); code != 0 {
			ts.Fatalf("demo: exit code %d\n%s", code, said.String())
		}
		template = filepath.Join(folder, "harbour")
	})
	ts.Check(os.CopyFS(ts.MkAbs(args[0]), os.DirFS(template)))
}

var (
	made     sync.Once
	template string
)

package cli

import (
	"bytes"
	"fmt"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store/joblog"
	"epitome/internal/view"
)

func (a *app) jobsExport() *cobra.Command {
	var out string
	var replace bool
	cmd := &cobra.Command{
		Use:   "export [-o FILE]",
		Short: "Write all jobs as lines of JSON",
		Example: `  epitome jobs export -o jobs.jsonl
  epitome jobs export | wc -l`,
		Args: exactly(0, "no arguments, only flags"),
		RunE: func(*cobra.Command, []string) error {
			var text bytes.Buffer
			n := 0
			err := a.readingLog(func(l *joblog.Log) error {
				return l.Each(func(j bench.Job) error {
					line, err := j.Line()
					text.Write(line)
					n++
					return err
				})
			})
			if err != nil {
				return err
			}
			if out == "" {
				return view.WriteJSONLines(a.out, text.Bytes())
			}
			if err := a.write(out, text.Bytes(), replace); err != nil {
				return err
			}
			a.say("export   %s: %d jobs", out, n)
			return nil
		},
	}
	cmd.Flags().StringVarP(&out, "out", "o", "", "the file to write")
	cmd.Flags().BoolVar(&replace, "replace", false, "write over an existing file")
	return cmd
}

func (a *app) jobsImport() *cobra.Command {
	return &cobra.Command{
		Use:   "import FILE",
		Short: "Take in jobs that were exported",
		Long: `Import takes in lines that jobs export wrote. A job that is there already stays
as it is; one of the same number that differs is named. Where a line can't be
read, nothing is taken in.`,
		Example: `  epitome jobs import jobs.jsonl`,
		Args:    exactly(1, "one file"),
		RunE: func(_ *cobra.Command, args []string) error {
			const most = 1 << 30
			text, err := a.read(args[0], most)
			if err != nil {
				return err
			}
			var list []bench.Job
			n := 0
			for line := range bytes.Lines(text) {
				if n++; len(bytes.TrimSpace(line)) == 0 {
					continue
				}
				j, err := bench.ParseJob(line)
				if err != nil {
					return fmt.Errorf("%s, line %d: %w; nothing is taken in", args[0], n, err)
				}
				list = append(list, j)
			}
			if len(list) == 0 {
				return fmt.Errorf("%s holds no jobs; epitome jobs export writes some", args[0])
			}
			return a.withLog(func(l *joblog.Log) error {
				t, err := l.Take(list, false)
				if err != nil {
					return err
				}
				a.say("import   %s: %d new, %d there already", args[0], t.New, t.Same)
				for _, number := range t.Differ {
					a.say("differs  %s %v; the log's own stays", number, joblog.ErrThere)
				}
				if len(t.Differ) > 0 {
					return answer(exitNo)
				}
				return nil
			})
		},
	}
}

package cli

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"

	"epitome/core/bench"
	"epitome/internal/store"
	"epitome/internal/store/joblog"
	"epitome/internal/view"
)

// roundOrder reads the goal, the lists, the drawer and the budget.
func (a *app) roundOrder(f roundFlags, policy string) (o bench.RoundOrder, err error) {
	budget, code, err := bench.BudgetOf(f.budget)
	if err != nil {
		return o, err
	}
	if f.budget != "" {
		if err := f.priced("--budget"); err != nil {
			return o, err
		}
	}
	o.Budget = budget
	if f.uses != "" {
		if o.Policy, o.Uses, err = a.usesOf(f.uses, policy); err != nil {
			return o, err
		}
	}
	for _, path := range f.drawer {
		sticks, err := a.drawerOf(path)
		if err != nil {
			return o, err
		}
		o.Drawer = append(o.Drawer, sticks...)
	}
	o.Goal, err = a.wished(f.wishes, code)
	return o, err
}

// mostDrawer is the longest file of a drawer, in bytes.
const mostDrawer = 8 << 20

// drawerOf reads the sticks of a drawer: a text, a stick a line, or a sheet.
func (a *app) drawerOf(path string) (sticks []bench.Stick, err error) {
	switch strings.ToLower(filepath.Ext(path)) {
	case ".csv", ".xlsx", ".xlsm", ".tsv":
		a.isInput(path)
		var unread error
		sticks, wrong := bench.DrawerSheet(sheetRows(path, &unread))
		if unread != nil {
			return nil, unread
		}
		return sticks, a.drawerWrong(path, len(sticks), wrong)
	}
	text, err := a.read(path, mostDrawer)
	if err != nil {
		return nil, err
	}
	sticks, wrong := bench.DrawerText(string(text))
	return sticks, a.drawerWrong(path, len(sticks), wrong)
}

// drawerWrong says which lines of a drawer can't be read. It is an error where none can.
func (a *app) drawerWrong(path string, sticks int, wrong []string) error {
	if sticks == 0 && len(wrong) > 0 {
		return usageError("%s holds no stick that can be read: %s", path, wrong[0])
	}
	for i, w := range wrong {
		if i == 5 {
			a.say("drawer   %s: and %d lines more", path, len(wrong)-i)
			break
		}
		a.say("drawer   %s, %s; left out", path, w)
	}
	return nil
}

// mostList is the longest list of cards, in bytes.
const mostList = 16 << 20

// cardsOf finds the cards that folders, lists and names stand for, each once.
func (a *app) cardsOf(args []string) (cards []string, err error) {
	seen := make(map[string]bool)
	add := func(path string) {
		if key := absolute(path); !seen[key] {
			seen[key], cards = true, append(cards, path)
		}
	}
	var take func(path string, listed bool) error
	take = func(path string, listed bool) error {
		info, err := os.Stat(path)
		switch {
		case err == nil && info.IsDir():
			found := 0
			err := filepath.WalkDir(path, func(p string, d fs.DirEntry, err error) error {
				if err == nil && !d.IsDir() && strings.EqualFold(filepath.Ext(p), ".card") {
					found++
					add(p)
				}
				return nil // a folder that can't be read holds no cards
			})
			if err == nil && found == 0 {
				err = usageError("%s holds no card; epitome intake -o %s makes one", path, filepath.Join(path, "NAME.card"))
			}
			return err
		case listed || strings.EqualFold(filepath.Ext(path), ".card"):
			add(path) // one that is not there is listed with those that can't be read
			return nil
		case err != nil:
			return fmt.Errorf("%s is not there; name a folder of cards, or a list that names them", path)
		}
		text, err := a.read(path, mostList)
		if err != nil {
			return err
		}
		if bytes.ContainsRune(text, 0) {
			return usageError("%s is no list of cards: a text file is wanted that names cards or folders, one a line", path)
		}
		lines, there := "", false
		for line := range strings.Lines(string(text)) {
			line = strings.TrimSpace(line)
			if line == "" || strings.HasPrefix(line, "#") {
				continue
			}
			if !filepath.IsAbs(line) {
				line = filepath.Join(filepath.Dir(path), filepath.FromSlash(line))
			}
			_, err := os.Stat(line)
			lines, there = first(lines, line), there || err == nil
			if err := take(line, true); err != nil {
				return err
			}
		}
		if lines != "" && !there {
			return usageError("%s names no card that is there, %s first; a list has a card or a folder a line", path,
				view.Clip(view.Line(lines), 80))
		}
		return nil
	}
	for _, arg := range args {
		if err := take(arg, false); err != nil {
			return nil, err
		}
	}
	if len(cards) == 0 {
		return nil, usageError("the list names no card")
	}
	return cards, nil
}

// A desk opens the cards of a round. What lies beside them is read once.
type desk struct {
	app    *app
	mu     sync.Mutex
	known  map[string]bench.Known // by folder
	taught map[string][]bench.Taught
	log    *joblog.Log
	tried  bool
}

func (d *desk) open(path string) (*bench.Bench, error) {
	text, err := store.Read(path, bench.MostCard)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, errors.New("it is not there")
	}
	if err != nil {
		return nil, err
	}
	c, err := bench.ParseCard(text)
	if err != nil {
		return nil, err
	}
	b := bench.New(c, d.beside(path))
	return b.Remembering(d.remembered(b.Make())), nil
}

// beside is what is known of parts beside a card.
func (d *desk) beside(path string) bench.Known {
	d.mu.Lock()
	defer d.mu.Unlock()
	folder := filepath.Dir(path)
	k, ok := d.known[folder]
	if !ok {
		var wrong []error
		k, wrong = d.app.known(path)
		d.app.leftOut(wrong)
		d.known[folder] = k
	}
	return k
}

// remembered is what earlier jobs showed of a make.
func (d *desk) remembered(make string) []bench.Taught {
	d.mu.Lock()
	defer d.mu.Unlock()
	if list, ok := d.taught[make]; ok || make == "" {
		return list
	}
	if !d.tried {
		d.tried = true
		set, err := d.app.settings()
		if err == nil && !d.app.offline && !set.Offline && joblog.Exists(set.Jobs) {
			if d.log, err = joblog.OpenToRead(set.Jobs); err != nil && !errors.Is(err, joblog.ErrNoLog) {
				d.app.say("epitome: %v; what earlier jobs showed is left out", err)
			}
		}
	}
	if d.log == nil {
		return nil
	}
	list, err := d.log.Taught(make)
	if err != nil {
		d.app.say("epitome: %v; what earlier jobs showed is left out", err)
		d.end()
		return nil
	}
	d.taught[make] = list
	return list
}

func (d *desk) end() {
	if d.log != nil {
		d.log.Close()
		d.log = nil
	}
}

package cli

import (
	"epitome/internal/live"
	"epitome/internal/view"
)

// how prints the lines to type on a machine that has no Epitome.
func (a *app) how() error {
	page := view.NewPage(a.look())
	page.Headline("What to type on a machine that has no Epitome. Then: epitome intake --from FOLDER -o CARD.")
	for _, way := range live.Ways {
		page.Blank()
		page.Heading(way.System + ", " + way.Before)
		for _, l := range way.Lines {
			page.Line("%s", l.Type) // as one line, so that it can be copied
			page.Para(4, "    ", "gives "+l.Gives)
		}
	}
	page.Blank()
	page.Foot("What is not there is left out; half of it is better than nothing. Stickers are added with --sticker.")
	return page.Flush(a.out)
}

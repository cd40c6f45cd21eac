package view

import (
	"encoding/base64"
	"html/template"
	"io"
	"sync"

	"epitome/core/docket"
)

// docketPage is one file with everything in it: it prints well and needs no
// network. html/template escapes whatever comes from hardware, lists or people.
var docketPage = sync.OnceValue(func() *template.Template {
	return template.Must(template.New("docket").Funcs(template.FuncMap{"waits": waitsWords, "waitsFor": waitsTitle,
		"title": itemTitle,
		"rows":  itemRows}).Parse(docketText))
})

const docketText = `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>{{.Title}}</title>
<style>
@page { size: {{.Paper}}; margin: 15mm }
body { font: 11pt/1.35 "DejaVu Sans", Verdana, sans-serif; color: #1d2021;
  max-width: 185mm; margin: 8mm auto; padding: 0 4mm }
header { display: flex; justify-content: space-between; border-bottom: 2px solid #1d2021; padding-bottom: 3mm }
h1 { font-size: 16pt; margin: 0 } h2 { font-size: 12.5pt; margin: 6mm 0 2mm } .shop { margin: 0 0 2mm; color: #555 }
table { border-collapse: collapse } td { padding: .6mm 4mm .6mm 0; vertical-align: top }
td:first-child { white-space: nowrap; color: #555 }
.map td { border: 1.5px solid #1d2021; padding: 2mm 4mm; color: inherit } .map td.free { border-style: dashed }
.map td.soldered { border-style: double; border-width: 4px } .map td.label { border: 0; color: #555 }
.new { font-weight: bold } .warn { border: 2px solid #1d2021; padding: 2mm 4mm; margin: 4mm 0 }
ol { margin: 0; padding-left: 6mm } .sheet { break-before: page }
img { width: 26mm; height: 26mm; image-rendering: pixelated }
</style></head><body>
<header><div>{{range .D.Heading}}<p class="shop">{{.}}</p>{{end}}<h1>{{.Title}}</h1>
<p>{{range $i, $x := .Lines}}{{if $i}} &middot; {{end}}{{$x}}{{end}}</p></div>
{{if .Code}}<img alt="job {{.D.Job}}" src="{{.Code}}">{{end}}</header>
{{if .D.Waits}}<div class="warn"><b>{{waits .D}}</b>{{waitsFor .D}}<ul>{{range .D.Waits}}<li>{{.}}</li>{{end}}</ul>
</div>{{end}}
<p><b>{{.Verdict}}</b></p>
<table class="map">{{range .Map}}<tr><td class="label">{{.Channel}}</td>
{{range .Sites}}<td class="{{.Class}}">{{.Name}}<br><span{{if .New}} class="new"{{end}}>{{.Holds}}</span></td>{{end}}
</tr>{{end}}</table>
{{range .D.Items}}<h2>{{title .}}</h2><table>{{range rows .}}<tr><td>{{index . 0}}</td><td>{{index . 1}}</td></tr>
{{end}}
{{range .Accept}}<tr><td>or</td><td>{{.What}}: {{.Because}}.</td></tr>{{end}}{{range .Avoid}}<tr><td><b>not</b></td>
<td>{{.What}}: {{.Because}}.</td></tr>{{end}}</table>{{end}}
{{if .D.Cost}}<p><b>Cost {{.D.Cost}}</b></p>{{end}}
<div class="sheet"><h2>Fitting</h2><ol>{{range .Before}}<li>{{.}}</li>{{end}}
{{range .D.TakeOut}}<li><b>Take {{.}}</b></li>{{end}}{{range .D.Fit}}<li><b>Put {{.}}</b></li>{{end}}
<li>{{.Last}}</li></ol>
<h2>Afterwards</h2><table>{{range .D.Expect}}<tr><td>&#9744; {{index . 0}}</td><td>{{index . 1}}</td></tr>{{end}}
</table></div>
</body></html>
`

// A docketMapRow is one channel of the map.
type docketMapRow struct {
	Channel string
	Sites   []docketSite
}

type docketSite struct {
	Name, Holds, Class string
	New                bool
}

var siteClasses = map[SiteForm]string{FilledSocket: "filled", FreeSocket: "free", SolderedBank: "soldered",
	UnclearPlace: "free"}

func docketMap(d docket.Docket) []docketMapRow { return mapRows(docketSites(d)) }

// mapRows are places by channel, as a table of a page shows them.
func mapRows(places []Site) (out []docketMapRow) {
	for _, row := range channelRows(places) {
		label := "channel " + row.label
		if row.label == "?" {
			label = ""
		}
		r := docketMapRow{Channel: label}
		for _, s := range row.sites {
			r.Sites = append(r.Sites, docketSite{s.Name, s.Holds, siteClasses[s.Form], len(s.Holds) > 3 && s.Holds[:3] == "new"})
		}
		out = append(out, r)
	}
	return out
}

// DocketHTML writes the docket as one page of HTML. paper is "A4" or "letter".
func DocketHTML(w io.Writer, d docket.Docket, paper string) error {
	code := template.URL("")
	if png, err := jobCode(d.Job); err == nil && len(png) > 0 {
		code = template.URL("data:image/png;base64," + base64.StdEncoding.EncodeToString(png)) // our own picture
	}
	last := len(d.Handling) - 1
	return docketPage().Execute(NewCleaner(w, false),
		map[string]any{"D": d, "Title": docketTitle(d), "Lines": docketLines(d), "Paper": paper, "Code": code,
			"Verdict": verdictLine(d),
			"Map":     docketMap(d), "Before": d.Handling[:last], "Last": d.Handling[last]})
}

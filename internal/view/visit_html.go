package view

import (
	"html/template"
	"io"
	"sync"

	"epitome/core/bench"
)

// visitPage is the visit as one file with everything in it, made to print on one sheet.
var visitPage = sync.OnceValue(func() *template.Template {
	return template.Must(template.New("visit").Funcs(template.FuncMap{"look": lookWords}).Parse(visitText))
})

const visitText = `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>{{.Title}}</title>
<style>
@page { size: A4; margin: 14mm }
body { font: 10.5pt/1.35 "DejaVu Sans", Verdana, sans-serif; color: #1d2021;
  max-width: 182mm; margin: 8mm auto; padding: 0 4mm }
h1 { font-size: 14pt; line-height: 1.25; margin: 0 0 4mm; border-bottom: 2px solid #1d2021; padding-bottom: 3mm }
h2 { font-size: 11.5pt; margin: 5mm 0 1.5mm }
table { border-collapse: collapse; margin: 0 0 3mm } td { padding: .5mm 4mm .5mm 0; vertical-align: top }
td:first-child { white-space: nowrap; color: #555 }
.map td { border: 1.5px solid #1d2021; padding: 2mm 4mm; color: inherit } .map td.free { border-style: dashed }
.map td.soldered { border-style: double; border-width: 4px } .map td.label { border: 0; color: #555 }
.lead { border: 2px solid #1d2021; padding: 2mm 4mm; margin: 0 0 4mm } ol, ul { margin: 0; padding-left: 6mm }
li { margin-bottom: 1.5mm } li:first-child b { font-size: 11.5pt }
footer { margin-top: 5mm; color: #555; font-size: 9pt }
</style></head><body>
{{range .S.Lead}}<p class="lead">{{.}}</p>{{end}}
<h1>{{.Title}}</h1>
{{if .Map}}<table class="map">{{range .Map}}<tr><td class="label">{{.Channel}}</td>
{{range .Sites}}<td class="{{.Class}}">{{.Name}}<br>{{.Holds}}</td>{{end}}</tr>{{end}}</table>{{end}}
<table>{{range .Rows}}<tr><td>{{index . 0}}</td><td>{{index . 1}}</td></tr>{{end}}</table>
{{if .S.Visit.Free}}<h2>Free of charge</h2><ul>{{range .S.Visit.Free}}<li>{{.Says}}: {{.Gains}}</li>{{end}}</ul>{{end}}
<h2>{{.Buy}}</h2>{{if .Choices}}<ol>{{range .Choices}}<li value="{{.Number}}"><b>{{.Title}}</b><br>{{.Words}}</li>
{{end}}</ol>{{else}}<p>{{.Nothing}}</p>{{end}}
{{if .S.Visit.Looks}}<h2>{{.LookTitle}}</h2><ul>{{range .S.Visit.Looks}}<li>{{look .}}</li>{{end}}</ul>{{end}}
<footer>{{.Foot}}{{range .S.Lists}}<p>{{.}}</p>{{end}}</footer>
</body></html>
`

// A visitChoice is a choice as the page shows it.
type visitChoice struct {
	Number       int
	Title, Words string
}

// VisitHTML writes a visit as one page of HTML that needs nothing else.
func VisitHTML(w io.Writer, s Sitting) error {
	marks := make(legend)
	rows := visitRows(s, marks)
	var choices []visitChoice
	for _, c := range s.Visit.Choices {
		if q, err := bench.Find(s.Visit.Proposals, c.Number); err == nil {
			choices = append(choices, visitChoice{c.Number, choiceTitle(s.Visit, c, q), choiceWords(q)})
		}
	}
	return visitPage().Execute(NewCleaner(w, false),
		map[string]any{"S": s, "Title": conclusion(s.Machine), "Map": mapRows(sites(s.Machine)), "Rows": rows,
			"Buy":     buyTitle(s.Visit),
			"Choices": choices, "Nothing": nothingWords(s.Visit), "LookTitle": lookTitle(s.Visit), "Foot": marks.foot()})
}

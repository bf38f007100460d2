// Package papers prints: sheets for the garage wall, filled sheets, certificates, a season's report, tags and a history for a sale,
// as PDF. It is black on white and needs no colour.
package papers

import (
	"bytes"
	_ "embed"
	"strings"
	"time"

	"braxel/internal/core/say"

	"codeberg.org/go-pdf/fpdf"
)

//go:embed fonts/barlow-semi-condensed-400.ttf
var regular []byte

//go:embed fonts/barlow-semi-condensed-600.ttf
var bold []byte

//go:embed fonts/jetbrains-mono-500.ttf
var mono []byte

// Faces of a paper: words, heavy words, figures.
const (
	words   = "words"
	heavy   = "heavy"
	figures = "figures"
)

// margin is the white around a page, millimetres: what home printers leave anyway, and a hole punch.
const margin = 14.0

// page is a paper under way, in millimetres from its upper left corner.
type page struct {
	*fpdf.Fpdf
	w, h float64 // inside the margins
	y    float64 // where the next thing stands
	foot string
}

// newPage begins a paper. When it was made is left out of the file, so that the same tests print the same bytes.
func newPage(w, h float64, foot string) *page {
	f := fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: fpdf.SizeType{Wd: w, Ht: h}})
	f.SetCreationDate(time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC))
	f.SetModificationDate(time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC))
	f.SetCatalogSort(true)
	f.AddUTF8FontFromBytes(words, "", regular)
	f.AddUTF8FontFromBytes(heavy, "", bold)
	f.AddUTF8FontFromBytes(figures, "", mono)
	f.SetAutoPageBreak(false, 0)
	f.SetMargins(0, 0, 0)
	f.SetCellMargin(0)
	p := &page{Fpdf: f, w: w - 2*margin, h: h - margin, y: margin, foot: foot}
	p.SetProducer("Braxel", true)
	p.next()
	return p
}

// next begins a new page.
func (p *page) next() {
	p.AddPage()
	p.y = margin
	p.SetDrawColor(40, 40, 40)
	p.SetTextColor(0, 0, 0)
	if p.foot != "" {
		p.write(margin, p.h+6, words, 7.5, say.Text("papers.page", "foot", p.foot, "pageNo", p.PageNo()))
	}
}

// room begins a new page where less than so much is left of this one.
func (p *page) room(height float64) {
	if p.y+height > p.h {
		p.next()
	}
}

// points in a millimetre.
const points = 72 / 25.4

// printable leaves out what no face has a sign for.
var printable = strings.NewReplacer("\t", " ", "\r", "", "≥", "at least ", "≤", "at most ", "→", "to", "′", "'", "″", `"`)

// write puts a line of text with its baseline at y.
func (p *page) write(x, y float64, face string, size float64, text string) {
	p.SetFont(face, "", size)
	p.Text(x, y, printable.Replace(text))
}

// width of a line of text, millimetres.
func (p *page) width(face string, size float64, text string) float64 {
	p.SetFont(face, "", size)
	return p.GetStringWidth(printable.Replace(text))
}

// right puts text that ends at x.
func (p *page) right(x, y float64, face string, size float64, text string) {
	p.write(x-p.width(face, size, text), y, face, size, text)
}

// middle puts text around x.
func (p *page) middle(x, y float64, face string, size float64, text string) {
	p.write(x-p.width(face, size, text)/2, y, face, size, text)
}

// fit is the largest size up to most at which a line is no wider than so much.
func (p *page) fit(face string, most, width float64, text string) float64 {
	if w := p.width(face, most, text); w > width && w > 0 {
		return most * width / w
	}
	return most
}

// wrap parts text into lines no wider than so much.
func (p *page) wrap(face string, size, width float64, text string) []string {
	p.SetFont(face, "", size)
	var lines []string
	for _, paragraph := range strings.Split(printable.Replace(text), "\n") {
		line := ""
		for _, word := range strings.Fields(paragraph) {
			for p.GetStringWidth(word) > width && len([]rune(word)) > 1 { // a word that no line holds
				half := []rune(word)
				n := len(half)
				for n > 1 && p.GetStringWidth(string(half[:n])) > width {
					n--
				}
				if line != "" {
					lines = append(lines, line)
					line = ""
				}
				lines = append(lines, string(half[:n]))
				word = string(half[n:])
			}
			if line == "" {
				line = word
			} else if p.GetStringWidth(line+" "+word) <= width {
				line += " " + word
			} else {
				lines = append(lines, line)
				line = word
			}
		}
		lines = append(lines, line)
	}
	return lines
}

// paragraph writes text over as many lines as it needs, going on overleaf.
func (p *page) paragraph(face string, size float64, text string) {
	const lead = 1.28
	step := size / points * lead
	for _, line := range p.wrap(face, size, p.w, text) {
		p.room(step)
		p.y += step
		p.write(margin, p.y, face, size, line)
	}
	p.y += step * 0.25
}

// heading writes what follows stands under.
func (p *page) heading(text string) {
	const before, size = 5.5, 10.5
	p.room(before + 12)
	p.y += before
	p.write(margin, p.y, heavy, size, text)
	p.SetLineWidth(0.2)
	p.Line(margin, p.y+1.4, margin+p.w, p.y+1.4)
	p.y += 2
}

// title begins a paper: what it is, and whose.
func (p *page) title(what, whose string) {
	p.y += 6
	p.write(margin, p.y, heavy, 19, what)
	p.right(margin+p.w, p.y, words, 11, whose)
	p.SetLineWidth(0.7)
	p.Line(margin, p.y+2.6, margin+p.w, p.y+2.6)
	p.y += 4
}

// pair writes a label over a value.
func (p *page) pair(x, y, width float64, label, value string) {
	p.write(x, y, words, 7.5, label)
	size := p.fit(words, 10.5, width-2, value)
	p.write(x, y+4.6, words, size, value)
}

// pairs writes labels over values, so many in a row.
func (p *page) pairs(inRow int, all [][2]string) {
	width := p.w / float64(inRow)
	for i, one := range all {
		if i%inRow == 0 {
			p.room(10)
			if i > 0 {
				p.y += 9.5
			} else {
				p.y += 4
			}
		}
		p.pair(margin+float64(i%inRow)*width, p.y, width, one[0], one[1])
	}
	p.y += 6
}

// column of a table.
type column struct {
	head  string
	width float64 // a share; they are made to fill the page
	right bool
	face  string
}

// table writes rows under heads, the heads again on each page.
func (p *page) table(columns []column, rows [][]string, height float64) {
	total := 0.0
	for _, c := range columns {
		total += c.width
	}
	heads := func() {
		x := margin
		p.y += 4
		for _, c := range columns {
			w := c.width / total * p.w
			if c.right {
				p.right(x+w-1.5, p.y, words, 8, c.head)
			} else {
				p.write(x, p.y, words, 8, c.head)
			}
			x += w
		}
		p.SetLineWidth(0.2)
		p.Line(margin, p.y+1.3, margin+p.w, p.y+1.3)
		p.y += 1.4
	}
	p.room(2*height + 6)
	heads()
	for _, row := range rows {
		lines := make([][]string, len(columns))
		most := 1
		for i, c := range columns {
			lines[i] = p.wrap(c.face, 9, c.width/total*p.w-1.5, row[i])
			most = max(most, len(lines[i]))
		}
		const lead = 3.9
		tall := height + float64(most-1)*lead
		if p.y+tall > p.h {
			p.next()
			heads()
		}
		x := margin
		for i, c := range columns {
			w := c.width / total * p.w
			for k, text := range lines[i] {
				y := p.y + height*0.68 + float64(k)*lead
				if c.right {
					p.right(x+w-1.5, y, c.face, 9, text)
				} else {
					p.write(x, y, c.face, 9, text)
				}
			}
			x += w
		}
		p.y += tall
		p.SetLineWidth(0.08)
		p.Line(margin, p.y, margin+p.w, p.y)
	}
}

// bytes ends the paper.
func (p *page) bytes() ([]byte, error) {
	var out bytes.Buffer
	err := p.Output(&out)
	return out.Bytes(), err
}

package demo

import (
	"bytes"
	"time"

	"codeberg.org/go-pdf/fpdf"
)

// paper is a printed page: a title, and lines of two columns.
func paper(title string, lines [][2]string) []byte {
	day := time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)
	p := fpdf.New("P", "mm", "A4", "")
	p.SetCreationDate(day)
	p.SetModificationDate(day)
	p.SetCatalogSort(true) // the same bytes each time
	p.SetTitle(title, true)
	p.SetMargins(24, 24, 24)
	p.AddPage()
	sign := p.UnicodeTranslatorFromDescriptor("")
	p.SetFont("Helvetica", "B", 22)
	p.CellFormat(0, 16, sign(title), "", 1, "L", false, 0, "")
	p.SetFont("Helvetica", "", 12)
	for _, l := range lines {
		p.CellFormat(110, 9, sign(l[0]), "B", 0, "L", false, 0, "")
		p.CellFormat(0, 9, sign(l[1]), "B", 1, "R", false, 0, "")
	}
	var b bytes.Buffer
	if err := p.Output(&b); err != nil {
		panic(err) // what is printed is all ours
	}
	return b.Bytes()
}

// hallPrices is the price list of Osprey Hall, to print.
func hallPrices() []byte {
	return paper("Osprey Hall, prices", [][2]string{
		{
			"Day ticket, adult",
			"£11.50",
		}, {"Day ticket, student", "£9.50"}, {"Day ticket, child", "£7.00"}, {"Ten visits, adult", "£98.00"},
		{
			"Ten visits, student",
			"£80.00",
		}, {"Ten visits, child", "£58.00"}, {"Month, adult", "£46.00"}, {"Month, student", "£38.00"},
		{"Month, child", "£28.00"}, {"Shoes", "£3.00"}, {"Rope", "£4.00"}, {"Locker", "£1.00"},
	})
}

// oldPrices is one of an earlier year, which no page leads to any more.
func oldPrices() []byte {
	return paper("Osprey Hall, prices 2025", [][2]string{{"Day ticket, adult", "£10.50"}, {"Day ticket, child", "£6.50"}, {"Shoes", "£2.50"}})
}

// NewHallPrices is the price list that the hall sends for the new year.
func NewHallPrices() []byte {
	return paper("Osprey Hall, prices from January", [][2]string{
		{
			"Day ticket, adult",
			"£12.00",
		}, {"Day ticket, student", "£10.00"}, {"Day ticket, child", "£7.50"}, {"Ten visits, adult", "£102.00"},
		{
			"Ten visits, student",
			"£84.00",
		}, {"Ten visits, child", "£60.00"}, {"Month, adult", "£48.00"}, {"Month, student", "£40.00"},
		{
			"Month, child",
			"£29.00",
		}, {"Shoes", "£3.50"}, {"Rope", "£4.00"}, {"Locker", "£1.00"}, {"Course for beginners, four evenings", "£64.00"},
		{"Course for families, two mornings", "£52.00"}, {"Birthday party, up to ten children", "£140.00"},
	})
}

package byhand

import (
	"fmt"
	"strconv"
	"strings"

	"mendry/internal/core/page"
)

const shown = 48 // letters of other words by which a place is told

// where tells in words how to find parts that stand side by side.
func where(p *page.Page, ps []*page.Part) string {
	if len(ps) == 0 {
		return ""
	}
	part := ps[0]
	if in := inTable(part); in != "" {
		return in
	}
	var heading, last *page.Part
	for _, q := range p.All {
		if q.Start >= part.Start {
			break
		}
		if q.End > part.Start || q.Text == "" || q.Kind.Whole() {
			continue
		}
		if last = q; q.Kind == page.Heading {
			heading = q
		}
	}
	switch {
	case last == nil:
		return "at the top of the page"
	case last == heading:
		return fmt.Sprintf("right below “%s”", page.Short(heading.Text, shown))
	case heading == nil:
		return fmt.Sprintf("after “%s”", page.Short(last.Text, shown))
	}
	return fmt.Sprintf("below “%s”, after “%s”", page.Short(heading.Text, shown), page.Short(last.Text, shown))
}

// inTable tells row and column; empty for what stands in no table.
func inTable(part *page.Part) string {
	row := within(part, page.Row)
	if row == nil {
		return ""
	}
	table := within(row, page.Table)
	if table == nil {
		return ""
	}
	name := "table “" + page.Short(table.Name, shown) + "”"
	if rest, ok := strings.CutPrefix(table.Name, "Table"); ok { // named by what stands above it
		name = "table" + rest
	}
	in := fmt.Sprintf("in the %s, %s row", name, nth(row, page.Row))
	if cell := within(part, page.Cell); cell != nil {
		in += fmt.Sprintf(", %s column", nth(cell, page.Cell))
	}
	return in
}

// within is the part of a kind that a part is, or stands in; nil where there is none.
func within(part *page.Part, kind page.Kind) *page.Part {
	for ; part != nil && part.Kind != kind; part = part.Parent {
	}
	return part
}

var ordinals = [...]string{"", "first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"}

// nth tells the how-manieth of its kind a part is among its siblings.
func nth(part *page.Part, kind page.Kind) string {
	n := 0
	for _, q := range part.Parent.Parts {
		if q.Kind == kind {
			n++
		}
		if q == part {
			break
		}
	}
	switch {
	case n < len(ordinals):
		return ordinals[n]
	case n%100/10 != 1 && n%10 == 1:
		return strconv.Itoa(n) + "st"
	case n%100/10 != 1 && n%10 == 2:
		return strconv.Itoa(n) + "nd"
	case n%100/10 != 1 && n%10 == 3:
		return strconv.Itoa(n) + "rd"
	}
	return strconv.Itoa(n) + "th"
}

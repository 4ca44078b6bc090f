package change

import (
	"bytes"
	"fmt"

	"mendry/internal/core/diff"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
)

// Difference is what two versions of a page differ in, part by part.
type Difference struct {
	Same        bool   `json:"same"`
	OutsideSame bool   `json:"outside_same"` // nothing differs but what Changes lists, byte for byte
	Changes     []Diff `json:"changes"`
}

// Diff is one part that differs.
type Diff struct {
	Kind   string     `json:"kind"` // words, picture, section, facts
	Part   string     `json:"part"` // of the new page; of the old one for what is gone
	Name   string     `json:"name"`
	Before string     `json:"before"`
	After  string     `json:"after"`
	Say    string     `json:"say"`
	Words  []diff.Run `json:"words,omitempty"`
}

// leaf is a part that is compared as a whole.
func leaf(p *page.Part) bool {
	switch p.Kind {
	case page.Section, page.Table, page.Row, page.Form:
		return false
	}
	for a := p.Parent; a != nil; a = a.Parent {
		if a.Kind.HasWords() && !(a.Kind == page.Cell && a.Locked != "") {
			return false // inside words that are compared already
		}
	}
	return !(p.Kind == page.Cell && p.Locked != "")
}

func leaves(p *page.Page) (ls []*page.Part) {
	for _, part := range p.All {
		if leaf(part) && part.Node.Placed {
			ls = append(ls, part)
		}
	}
	return ls
}

// Compare tells what became of old in now.
func Compare(old, now *page.Page) Difference {
	d := Difference{Same: bytes.Equal(old.Doc.Bytes, now.Doc.Bytes), Changes: []Diff{}}
	if d.Same {
		d.OutsideSame = true
		return d
	}
	d.facts(old, now)
	a, b := leaves(old), leaves(now)
	key := func(p *page.Part) string { return string(p.Kind) + "\x00" + p.HTML }
	ka, kb := make([]string, len(a)), make([]string, len(b))
	for i, p := range a {
		ka[i] = key(p)
	}
	for i, p := range b {
		kb[i] = key(p)
	}
	var cutA, cutB []source.Span
	i, j := 0, 0
	script := diff.Script(ka, kb)
	for k := 0; k < len(script); k++ {
		op := script[k]
		if op.Is == diff.Same {
			i, j = i+op.N, j+op.N
			continue
		}
		gone, new := 0, 0
		for ; k < len(script) && script[k].Is != diff.Same; k++ {
			if script[k].Is == diff.Gone {
				gone += script[k].N
			} else {
				new += script[k].N
			}
		}
		k--
		d.stretch(a[i:i+gone], b[j:j+new])
		for _, p := range a[i : i+gone] {
			cutA = append(cutA, source.Span{Start: p.Start, End: p.End})
		}
		for _, p := range b[j : j+new] {
			cutB = append(cutB, source.Span{Start: p.Start, End: p.End})
		}
		i, j = i+gone, j+new
	}
	for _, f := range d.Changes {
		if f.Kind == "facts" {
			cutA, cutB = append(cutA, headSpan(old, f.Part)...), append(cutB, headSpan(now, f.Part)...)
		}
	}
	d.OutsideSame = bytes.Equal(without(old.Doc.Bytes, cutA), without(now.Doc.Bytes, cutB))
	return d
}

func (d *Difference) facts(old, now *page.Page) {
	for _, f := range []struct{ name, before, after string }{
		{"title", old.Facts.Title, now.Facts.Title},
		{"description", old.Facts.Description, now.Facts.Description},
		{"lang", old.Facts.Lang, now.Facts.Lang},
		{"canonical", old.Facts.Canonical, now.Facts.Canonical},
		{"image", old.Facts.Image, now.Facts.Image},
	} {
		if f.before != f.after {
			d.Changes = append(d.Changes, Diff{
				Kind: "facts", Part: f.name, Name: "Page " + f.name, Before: f.before, After: f.after,
				Say: becomes("Page "+f.name, f.before, f.after), Words: diff.Words(f.before, f.after),
			})
		}
	}
}

func headSpan(p *page.Page, fact string) []source.Span {
	n := p.HeadNode(fact)
	if n == nil {
		return nil
	}
	if fact == "lang" {
		return []source.Span{{Start: n.Start, End: n.InnerStart}}
	}
	return []source.Span{{Start: n.Start, End: n.End}}
}

// stretch pairs what is gone with what is new between two parts that stayed.
func (d *Difference) stretch(gone, new []*page.Part) {
	used := make([]bool, len(new))
	from := 0
	for _, g := range gone {
		pair := -1
		for k := from; k < len(new); k++ {
			if !used[k] && new[k].Kind == g.Kind {
				pair = k
				break
			}
		}
		if pair < 0 {
			d.Changes = append(d.Changes, Diff{Kind: "section", Part: g.ID, Name: g.Name, Before: g.HTML, Say: g.Name + " is gone"})
			continue
		}
		d.newUpTo(new, used, from, pair)
		used[pair], from = true, pair+1
		d.Changes = append(d.Changes, Between(g, new[pair]))
	}
	d.newUpTo(new, used, from, len(new))
}

func (d *Difference) newUpTo(new []*page.Part, used []bool, from, to int) {
	for k := from; k < to; k++ {
		if !used[k] {
			used[k] = true
			d.Changes = append(d.Changes, Diff{Kind: "section", Part: new[k].ID, Name: new[k].Name, After: new[k].HTML, Say: new[k].Name + " is new"})
		}
	}
}

// Between describes what became of one part.
func Between(old, now *page.Part) Diff {
	if old.Kind == page.Picture {
		f := Diff{Kind: "picture", Part: now.ID, Name: now.Name, Before: old.HTML, After: now.HTML}
		switch {
		case old.Attributes["src"] != now.Attributes["src"]:
			f.Say = fmt.Sprintf("%s: new picture %s", old.Name, now.Attributes["src"])
		case old.Attributes["alt"] != now.Attributes["alt"]:
			f.Say = becomes("Alternative text", old.Attributes["alt"], now.Attributes["alt"])
			f.Words = diff.Words(old.Attributes["alt"], now.Attributes["alt"])
		default:
			f.Say = old.Name + ": other settings"
		}
		return f
	}
	f := Diff{Kind: "words", Part: now.ID, Name: old.Name, Before: old.Text, After: now.Text, Words: diff.Words(old.Text, now.Text)}
	switch {
	case old.Text != now.Text:
		f.Say = becomes(old.Name, old.Text, now.Text)
	case old.Attributes["href"] != now.Attributes["href"]:
		f.Say = fmt.Sprintf("%s: leads to %s instead of %s", old.Name, now.Attributes["href"], old.Attributes["href"])
	default:
		f.Say = old.Name + ": same words, other markup"
	}
	return f
}

// becomes says what changed in one line, without a paragraph for a word.
func becomes(name, before, after string) string {
	if name == before || page.Short(before, 48) == name {
		return fmt.Sprintf("“%s” becomes “%s”", page.Short(before, 60), page.Short(after, 60))
	}
	switch {
	case before == "":
		return fmt.Sprintf("%s: now %s", name, page.Short(after, 80))
	case after == "":
		return fmt.Sprintf("%s: %s is taken out", name, page.Short(before, 80))
	case len(before)+len(after) < 80:
		return fmt.Sprintf("%s: %s becomes %s", name, before, after)
	}
	gone, now := "", ""
	for _, r := range diff.Words(before, after) {
		switch r.Is {
		case diff.Gone:
			gone += " " + r.Text
		case diff.New:
			now += " " + r.Text
		}
	}
	return fmt.Sprintf("%s: “%s” becomes “%s”", name, page.Short(gone, 60), page.Short(now, 60))
}

// without is b less the given spans, which are in order.
func without(b []byte, cut []source.Span) []byte {
	var edits []source.Edit
	for _, s := range cut {
		edits = append(edits, source.Edit{Span: s})
	}
	out, _, err := source.Splice(b, edits)
	if err != nil {
		return nil
	}
	return out
}

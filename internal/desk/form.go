package desk

import (
	"context"
	"fmt"
	"strings"

	"mendry/api"
	"mendry/internal/core/change"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
	"mendry/internal/store"
)

// edit turns a form into operations on base.
func (d *Desk) edit(ctx context.Context, q store.Queries, r store.RequestRow, dr *draft, base *page.Page, id *string, f api.ChangeForm) (edit, error) {
	words := ""
	if f.Words != nil {
		words = *f.Words
	}
	if f.Do == api.ChangeDoFact {
		if f.Name == nil {
			return edit{}, refused("Say which page fact.")
		}
		name := string(*f.Name)
		before := fact(base, name)
		return edit{
			kind: "facts", name: "Page " + name, before: before, after: words, say: fmt.Sprintf("Page %s: “%s”", name, page.Short(words, 80)),
			ops: []change.Op{{Op: change.SetFact, Name: name, Value: &words}},
		}, nil
	}
	if id == nil {
		return edit{}, refused("Point at a part first.")
	}
	part, ok := base.Part(*id)
	if !ok {
		return edit{}, stale("The part is no longer on the draft. It was loaded again.")
	}
	if part.Locked != "" {
		return edit{}, refused("“%s” is locked. %s", part.Name, part.Locked)
	}
	e := edit{part: part, name: part.Name}
	switch f.Do {
	case api.ChangeDoWords:
		markup, err := change.Retext(base, part, words)
		if err != nil {
			return e, err
		}
		e.kind, e.before, e.after = "words", part.Text, strings.TrimSpace(words)
		e.ops = []change.Op{{Op: change.SetWords, Part: part.ID, HTML: markup}}
		return e, nil
	case api.ChangeDoMarkup:
		if f.HTML == nil {
			return e, refused("Say what the words are to become.")
		}
		now, ok := dr.Page().Part(*f.Part)
		if !ok {
			return e, stale("The part is no longer on the draft. It was loaded again.")
		}
		markup, err := change.RewriteSeen(base, part, *f.HTML, dr.Page(), now)
		if err != nil {
			return e, err
		}
		e.kind, e.before = "words", part.Text
		e.ops = []change.Op{{Op: change.SetWords, Part: part.ID, HTML: markup}}
		return e, nil
	case api.ChangeDoJoin:
		e.kind, e.before = "words", part.Text
		e.ops = []change.Op{{Op: change.SetWords, Part: part.ID, HTML: value(f.HTML)}}
		return e, nil
	case api.ChangeDoInsert:
		return insertEdit(base, e, part, f)
	case api.ChangeDoForm:
		return formEdit(e, part, f)
	case api.ChangeDoTable:
		return tableEdit(base, e, part, f)
	case api.ChangeDoBack:
		return d.backEdit(ctx, q, dr, e, part, *f.Part, value(f.Version))
	case api.ChangeDoStyle:
		now, ok := dr.Page().Part(*f.Part)
		if !ok {
			return edit{}, stale("The part is no longer on the draft. It was loaded again.")
		}
		return d.styleEdit(ctx, dr, e, part, now, words)
	case api.ChangeDoAttribute:
		return attributeEdit(e, part, f, words)
	case api.ChangeDoPicture:
		return d.pictureEdit(ctx, q, r, dr, e, part, f)
	case api.ChangeDoCopy, api.ChangeDoMove, api.ChangeDoRemove:
		return sectionEdit(base, e, part, f)
	}
	return e, refused("There is no such change.")
}

func fact(p *page.Page, name string) string {
	return map[string]string{
		"title": p.Facts.Title, "description": p.Facts.Description, "lang": p.Facts.Lang,
		"canonical": p.Facts.Canonical, "image": p.Facts.Image,
	}[name]
}

func attributeEdit(e edit, part *page.Part, f api.ChangeForm, words string) (edit, error) {
	if f.Name == nil {
		return e, refused("Say which property.")
	}
	name := string(*f.Name)
	switch {
	case name == "alt" && part.Kind == page.Picture:
	case name == "href" && part.Node.Is("a"):
		if kind, _, _ := link.Of("http://site.example/", "/", words); kind == link.Other {
			return e, refused("“%s” is no address that a visitor can follow.", words)
		}
	case name == "title" && (part.Kind == page.Picture || part.Node.Is("a")):
	default:
		return e, refused("A %s has no %s.", part.Kind, name)
	}
	label := map[string]string{"alt": "alternative text", "href": "target", "title": "title"}[name]
	e.kind, e.name = "words", part.Name+", "+label
	e.before, e.after = part.Attributes.Get(name), words
	e.ops = []change.Op{{Op: change.SetAttribute, Part: part.ID, Name: name, Value: &words}}
	return e, nil
}

// insertEdit puts cleaned content beside a part.
func insertEdit(base *page.Page, e edit, part *page.Part, f api.ChangeForm) (edit, error) {
	if f.HTML == nil || f.Where == nil {
		return e, refused("Say what is to be put in, and where.")
	}
	allow := text.Everything
	if part.Node.Is("li") {
		allow.Headings = ""
	}
	markup, _ := text.Clean(*f.HTML, allow)
	plain, _ := text.Plain(markup)
	if strings.TrimSpace(plain) == "" {
		return e, refused("There is nothing to put in.")
	}
	if part.Node.Is("li") && !strings.Contains(markup, "<li") {
		markup = "<li>" + strings.NewReplacer("<p>", "", "</p>", "").Replace(markup) + "</li>"
	}
	markup = change.AsWritten(base, markup)
	e.kind, e.name, e.after = "section", newName(strings.TrimSpace(plain)), plain
	e.say = fmt.Sprintf("New %s %s: “%s”", *f.Where, page.Quoted(part.Name), page.Short(plain, 60))
	e.part = nil
	e.ops = []change.Op{{Op: change.Insert, Anchor: part.ID, Where: change.Where(*f.Where), HTML: markup}}
	return e, nil
}

func sectionEdit(base *page.Page, e edit, part *page.Part, f api.ChangeForm) (edit, error) {
	e.kind, e.before, e.after = "section", part.Text, part.Text
	op := change.Op{Part: part.ID}
	anchor := part
	if f.Anchor != nil && *f.Anchor != "" {
		a, ok := base.Part(*f.Anchor)
		if !ok {
			return e, stale("The place is no longer on the draft. It was loaded again.")
		}
		anchor = a
	}
	where := change.After
	if f.Where != nil {
		where = change.Where(*f.Where)
	}
	switch f.Do {
	case api.ChangeDoCopy:
		op.Op, op.Anchor, op.Where = change.Copy, anchor.ID, where
		e.before = ""
		e.say = fmt.Sprintf("%s: a copy stands %s %s", part.Name, where, page.Quoted(anchor.Name))
	case api.ChangeDoMove:
		op.Op, op.Anchor, op.Where = change.Move, anchor.ID, where
		e.say = fmt.Sprintf("%s moves %s %s", part.Name, where, page.Quoted(anchor.Name))
	case api.ChangeDoRemove:
		op.Op = change.Remove
		e.after = ""
		e.say = part.Name + " is taken out"
	}
	e.ops = []change.Op{op}
	return e, nil
}

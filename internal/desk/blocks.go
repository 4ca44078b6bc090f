package desk

import (
	"context"
	"fmt"
	"strings"

	"mendry/api"
	"mendry/internal/core/change"
	"mendry/internal/core/page"
	"mendry/internal/core/text"
	"mendry/internal/core/thread"
	"mendry/internal/store"
)

// formEdit gives a block another form.
func formEdit(e edit, part *page.Part, f api.ChangeForm) (edit, error) {
	if f.Form == nil {
		return e, refused("Say what the part is to become.")
	}
	form := change.Form(*f.Form)
	e.kind, e.before, e.after = "section", part.Text, part.Text
	e.say = fmt.Sprintf("%s becomes %s", page.Quoted(part.Name), form.Say())
	e.ops = []change.Op{{Op: change.Recast, Part: part.ID, Form: form}}
	return e, nil
}

// tableEdit changes the rows and columns of a part's table, or puts a new one below the part.
func tableEdit(base *page.Page, e edit, part *page.Part, f api.ChangeForm) (edit, error) {
	if f.Table == nil {
		return e, refused("Say what is to be done to the table.")
	}
	e.kind = "section"
	if *f.Table == api.TableActNew {
		e.say, e.part = fmt.Sprintf("New table after %s", page.Quoted(part.Name)), nil
		e.ops = []change.Op{{Op: change.Insert, Anchor: part.ID, Where: change.After, HTML: change.NewTable(base)}}
		return e, nil
	}
	ops, err := change.TableOps(base, part, change.TableAct(*f.Table))
	if err != nil {
		return e, err
	}
	e.say = fmt.Sprintf("%s: %s, at %s", change.TableOf(part).Name, map[api.TableAct]string{
		api.TableActRowAbove: "new row above", api.TableActRowBelow: "new row below", api.TableActRowOut: "row taken out",
		api.TableActColumnBefore: "new column before", api.TableActColumnAfter: "new column after", api.TableActColumnOut: "column taken out",
	}[*f.Table], page.Quoted(part.Name))
	e.part, e.around, e.ops = nil, change.TableOf(part), ops
	return e, nil
}

// split ends a part at a place in its words and begins a new one below it with what came after; before the first of its
// words it begins one above. It returns the new part's ID.
func (d *Desk) split(ctx context.Context, q store.Queries, who Who, r store.RequestRow, dr *draft, f api.ChangeForm) (string, error) {
	if f.Part == nil || f.HTML == nil || f.Rest == nil {
		return "", refused("Say where the part ends and what comes below it.")
	}
	p := dr.Page()
	part, ok := p.Part(*f.Part)
	if !ok {
		return "", stale("The part is no longer on the draft. It was loaded again.")
	}
	if part.Locked != "" || !change.Splits(part) {
		return "", refused("Nothing can be begun below “%s”.", part.Name)
	}
	plain, rest, where := "", "", change.After
	if !change.Says(*f.HTML) && change.Says(*f.Rest) {
		where = change.Before
	} else if change.Says(*f.Rest) {
		plain, _ = text.Plain(*f.Rest)
		plain = strings.TrimSpace(plain)
		var err error
		if rest, err = change.Rewrite(p, part, *f.Rest); err != nil {
			return "", err
		}
	}
	markup := change.Begun(p, part, strings.TrimSpace(rest), where)
	if rest != "" {
		shorter := f
		shorter.Do = api.ChangeDoMarkup
		if err := d.keep(ctx, q, who, r, dr, shorter); err != nil {
			return "", err
		}
		var err error
		if dr, err = d.draftOf(ctx, q, r.ID, dr.row.ID); err != nil {
			return "", err
		}
	}
	part, ok = dr.Page().Part(*f.Part)
	if !ok {
		return "", stale("The part is no longer on the draft. It was loaded again.")
	}
	e := edit{kind: "section", name: newName(plain), after: plain, ops: []change.Op{{Op: change.Insert, Anchor: part.ID, Where: where, HTML: markup}}}
	e.say = fmt.Sprintf("New %s %s: “%s”", where, page.Quoted(part.Name), page.Short(plain, 60))
	result, err := thread.Alone(dr.Page(), e.ops)
	if err != nil {
		return "", err
	}
	made := result.Made(0)
	if made == nil {
		return "", refused("Nothing can be begun below “%s”.", part.Name)
	}
	return made.ID, d.addChange(ctx, q, who, r, dr, e, result, f.WishID)
}

// newName is what a part that was put in is called, by its words.
func newName(plain string) string {
	if plain == "" {
		return change.NewWords
	}
	return "“" + page.Short(plain, 36) + "”"
}

// join lets the words of a part, as the editor left them, go on in the block above it, and takes the part out. It returns
// the block's ID.
func (d *Desk) join(ctx context.Context, q store.Queries, who Who, r store.RequestRow, dr *draft, f api.ChangeForm) (string, error) {
	if f.Part == nil || f.HTML == nil {
		return "", refused("Say which part's words go on above it.")
	}
	p := dr.Page()
	part, ok := p.Part(*f.Part)
	if !ok {
		return "", stale("The part is no longer on the draft. It was loaded again.")
	}
	words, err := change.Joined(p, part, *f.HTML)
	if err != nil {
		return "", err
	}
	above := change.Above(p, part).ID // earlier on the page, so the ID stays
	if k := dr.PutIn(part.ID); k >= 0 && holds(dr.Without(dr.changes[k].ID)) {
		err = d.drop(ctx, q, who, r, dr.changes[k])
	} else {
		err = d.keep(ctx, q, who, r, dr, api.ChangeForm{Do: api.ChangeDoRemove, Part: f.Part, WishID: f.WishID})
	}
	if err != nil {
		return "", err
	}
	if dr, err = d.draftOf(ctx, q, r.ID, dr.row.ID); err != nil {
		return "", err
	}
	return above, d.keep(ctx, q, who, r, dr, api.ChangeForm{Do: api.ChangeDoJoin, Part: &above, HTML: &words, WishID: f.WishID})
}

// holds reports whether a draft could be made.
func holds(_ *thread.Draft, err error) bool { return err == nil }

// insertAgain is change k, which put in one part, with other words in it.
func (dr *draft) insertAgain(k int, f api.ChangeForm) (edit, error) {
	p := dr.Page()
	part, ok := p.Part(*f.Part)
	if !ok {
		return edit{}, stale("The part is no longer on the draft. It was loaded again.")
	}
	var inner string
	var err error
	switch f.Do {
	case api.ChangeDoJoin:
		inner = value(f.HTML)
	case api.ChangeDoWords:
		inner, err = change.Retext(p, part, value(f.Words))
	default:
		inner, err = change.Rewrite(p, part, value(f.HTML))
	}
	if err != nil {
		return edit{}, err
	}
	op, err := dr.Kept[k].Step[0].Find(dr.Before(k))
	if err != nil {
		return edit{}, err
	}
	was := op.HTML
	start, end := strings.IndexByte(was, '<'), strings.LastIndex(was, "</")
	if start < 0 || end < start {
		return edit{}, refused("“%s” is changed in its markup.", part.Name)
	}
	open := start + strings.IndexByte(was[start:], '>') + 1
	op.HTML = was[:open] + inner + was[end:]
	plain, _ := text.Plain(inner)
	anchor, _ := dr.Before(k).Part(op.Anchor)
	return edit{
		kind: "section", name: newName(strings.TrimSpace(plain)), after: strings.TrimSpace(plain), ops: []change.Op{op},
		say: fmt.Sprintf("New %s %s: “%s”", op.Where, page.Quoted(anchor.Name), page.Short(plain, 60)),
	}, nil
}

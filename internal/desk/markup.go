package desk

import (
	"context"
	"strings"

	"mendry/api"
	"mendry/internal/core/act"
	"mendry/internal/core/change"
	"mendry/internal/core/may"
	"mendry/internal/core/page"
	"mendry/internal/core/refusal"
	"mendry/internal/core/source"
)

const noMarkup = "Markup is written by the studio’s lead. Ask for it, or change the part itself."

// Markup shows the markup of a part of a draft, as it is written.
func (d *Desk) Markup(ctx context.Context, who Who, number, pageID int64, id string) (api.PartMarkup, error) {
	_, dr, part, err := d.markedUp(ctx, who, number, pageID, id)
	if err != nil {
		return api.PartMarkup{}, err
	}
	doc := dr.Page().Doc
	return api.PartMarkup{
		Markup: strings.ReplaceAll(doc.Decode(doc.Bytes[part.Start:part.End]), "\r\n", "\n"),
		Line:   1 + strings.Count(string(doc.Bytes[:part.Start]), "\n"),
	}, nil
}

// markedUp finds a part whose markup somebody may write.
func (d *Desk) markedUp(ctx context.Context, who Who, number, pageID int64, id string) (r *rest, dr *draft, part *page.Part, err error) {
	if !may.Markup(who.Role) {
		return nil, nil, nil, refused("%s", noMarkup)
	}
	request, _, err := d.onBench(ctx, number, pageID)
	if err != nil {
		return nil, nil, nil, err
	}
	dr, site, err := d.draftAndSite(ctx, number, pageID)
	if err != nil {
		return nil, nil, nil, err
	}
	if part, err = dr.part(id); err != nil {
		return nil, nil, nil, err
	}
	if dr.Page().Doc.Format != source.HTML || part.Run != nil || part.Background || !part.Placed() {
		return nil, nil, nil, refused("“%s” has no markup of its own. Choose what it stands in.", part.Name)
	}
	return &rest{ctx: ctx, d: d, r: request, dr: dr, site: site, trying: true}, dr, part, nil
}

// TryMarkup tells what would become of markup that somebody writes for a part: what would be read otherwise than it is
// written, why it would be refused, and what would differ on the page. Nothing is kept.
func (d *Desk) TryMarkup(ctx context.Context, who Who, number, pageID int64, f api.MarkupForm) (api.TriedMarkup, error) {
	v := api.TriedMarkup{Readings: []api.MarkupReading{}, Differs: []string{}}
	r, dr, part, err := d.markedUp(ctx, who, number, pageID, f.Part)
	if err != nil {
		return v, err
	}
	for _, reading := range change.ReadAs(f.Markup, part.Node.HTML.Parent) {
		v.Readings = append(v.Readings, api.MarkupReading{Line: reading.Line, Say: reading.Say})
	}
	done, err := act.Do(dr.Draft, &act.Source{Part: f.Part, Markup: f.Markup}, r)
	if no := refusal.Of(err); no != nil {
		v.Refused = no.Say
		return v, nil
	}
	if err != nil {
		return v, err
	}
	told := change.Compare(dr.Page(), done.Draft.Page())
	v.Same = told.Same
	for _, c := range told.Changes {
		v.Differs = append(v.Differs, c.Say)
	}
	return v, nil
}

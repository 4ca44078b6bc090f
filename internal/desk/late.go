package desk

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"mendry/api"
	"mendry/internal/core/refusal"
	"mendry/internal/release"
	"mendry/internal/store"
)

// mostLate is how much is kept of what comes of a round too late to be its answer.
const mostLate = 200

// answerLate passes on what a client writes of a round that was answered, or overtaken, already: on a second phone, or
// on a page that stood open. What says nothing else than the answer is no news. It reports whether there was any.
func (d *Desk) answerLate(ctx context.Context, p *proven, r store.Round, f api.AnswerForm) (news bool, err error) {
	err = d.store.Tx(ctx, func(q store.Queries) error {
		if err := q.LockRequest(ctx, r.RequestID); err != nil {
			return err
		}
		rcs, err := q.RoundChanges(ctx, r.ID)
		if err != nil {
			return err
		}
		had, err := q.LateAnswers(ctx, r.ID)
		if err != nil {
			return err
		}
		e := event{Who: cmp.Or(strings.TrimSpace(f.Name), "somebody with the link"), What: "client wrote once more", Say: fmt.Sprintf("Of round %d, which was answered or overtaken", r.N)}
		for _, l := range beside(r, rcs, f) {
			news = true
			if slices.ContainsFunc(had, func(h store.LateAnswer) bool {
				return same(h.ChangeID, l.ChangeID) && h.Verdict == l.Verdict && h.Note == l.Note && h.Name == l.Name
			}) {
				continue // sent twice
			}
			if len(had) >= mostLate {
				return refusal.New(refusal.TooMany, "That is a lot of notes. Please write a mail to whoever sent you the link.")
			}
			l.At = d.now()
			if err := q.AddLateAnswer(ctx, l); err != nil {
				return err
			}
			had = append(had, l)
			if l.ChangeID == nil {
				e.Say += ". One thing more: “" + l.Note + "”"
				continue
			}
			c, err := q.Change(ctx, *l.ChangeID)
			if err != nil {
				return err
			}
			ce := release.ChangeEvent(c, "")
			ce.Verdict = strings.TrimSuffix(l.Verdict+": "+l.Note, ": ")
			e.Changes = append(e.Changes, ce)
		}
		if len(e.Changes) == 0 && !strings.Contains(e.Say, "One thing more") {
			return nil
		}
		return d.note(ctx, q, p.r.SiteID, &p.r.ID, nil, e)
	})
	return news, err
}

// beside is what a form says beside the answer that a round has.
func beside(r store.Round, rcs []store.RoundChange, f api.AnswerForm) (all []store.LateAnswer) {
	name := strings.TrimSpace(f.Name)
	for _, a := range f.Answers {
		l := store.LateAnswer{RoundID: r.ID, ChangeID: &a.ChangeID, Verdict: string(a.Verdict), Name: name}
		if a.Note != nil {
			l.Note = strings.TrimSpace(*a.Note)
		}
		i := slices.IndexFunc(rcs, func(c store.RoundChange) bool { return c.ChangeID == a.ChangeID })
		if i < 0 || l.Verdict == "" && l.Note == "" || l.Verdict == rcs[i].Verdict && l.Note == rcs[i].Note {
			continue
		}
		all = append(all, l)
	}
	if more := strings.TrimSpace(f.More); more != "" && more != r.More {
		all = append(all, store.LateAnswer{RoundID: r.ID, Note: more, Name: name})
	}
	return all
}

func same(a, b *int64) bool { return a == b || a != nil && b != nil && *a == *b }

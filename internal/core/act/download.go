package act

import (
	"cmp"
	"fmt"
	"html"
	"regexp"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/file"
	"mendry/internal/core/page"
	"mendry/internal/core/thread"
)

// Download brings a file to download: under the address that a link leads to, at an address of its own to which the
// link leads from then on, or with a new link beside a part.
type Download struct {
	Part       string       `json:"part"`            // the link; or the part beside which a new one goes
	Where      change.Where `json:"where,omitempty"` // before or after; empty: of the link itself
	Attachment int64        `json:"attachment_id"`   // a file of the request
	Words      string       `json:"words,omitempty"` // of a new link, without kind and weight
	Keep       bool         `json:"keep,omitempty"`  // the address stays, and what stands there is replaced
}

// Brought is a file to download that a change puts on a site.
type Brought struct {
	Name string // as it came
	Path string // its file on the host
	Src  string // as the page names it
	Hash string // SHA-256 of its bytes
	file.Info
	Was     file.Info // what stands under its address before
	WasHash string    // empty where nothing does
}

var _ = register("download", func() Act { return &Download{} })

func (a *Download) do(w *work) error {
	if a.Where == "" {
		return w.keep(a, a.Part)
	}
	part, err := w.pointed(a.Part)
	if err != nil {
		return err
	}
	words := strings.TrimSpace(a.Words)
	if words == "" {
		return refuse("Say in words what the file is: visitors read them before they choose it.")
	}
	p := w.draft.Page()
	like := downloadsLike(p)
	f, err := w.rest.Download(a.Attachment, like.href, false, 0)
	if err != nil {
		return err
	}
	words += like.tells(f.Info)
	markup := `<a href="` + html.EscapeString(f.Src) + `"`
	if like.class != "" {
		markup += ` class="` + html.EscapeString(like.class) + `"`
	}
	beside, markup := besideBlock(part, a.Where, markup+">"+change.EscapeText(words)+"</a>")
	err = w.settle(-1, p, edit{
		kind: OfFile, name: page.Quoted(page.Short(words, 36)), after: words, files: []Brought{f},
		say: fmt.Sprintf("New file to download %s %s: “%s”", a.Where, page.Quoted(part.Name), page.Short(words, 60)),
		ops: []change.Op{{Op: change.Insert, Anchor: beside.ID, Where: a.Where, HTML: change.AsWritten(p, markup)}},
	})
	w.takeUp()
	return err
}

// besideBlock gives a link the form in which it stands beside a part: an item beside an item, a line beside a link
// that stands among words, a paragraph beside anything else.
func besideBlock(part *page.Part, where change.Where, link string) (*page.Part, string) {
	if up := part.Parent; part.IsLink() && up != nil && up.Kind == page.Item && up.Node.Is("li") {
		part = up
	}
	switch {
	case part.Node.Is("li"):
		return part, "<li>" + link + "</li>"
	case part.IsLink() && where == change.After:
		return part, "<br>" + link
	case part.IsLink():
		return part, link + "<br>"
	}
	return part, "<p>" + link + "</p>"
}

// goesOn: another file for the same link takes the place of the one before.
func (a *Download) goesOn(d *thread.Draft, k int) bool { return bringsFile(d, k) }

// bringsFile reports whether a step says where a link leads before anything else: so do those that bring a file.
func bringsFile(d *thread.Draft, k int) bool {
	first := d.Kept[k].Step[0]
	return first.Op.Op == change.SetAttribute && first.Name == "href"
}

// staysAt reports whether step k leaves a link's address as it is: what changes is the file behind it.
func staysAt(d *thread.Draft, k int) bool {
	if !bringsFile(d, k) {
		return false
	}
	op, _, err := d.Kept[k].Step[0].Find(d.Before(k))
	if err != nil || op.Value == nil {
		return false
	}
	part, ok := d.Before(k).Part(op.Part)
	return ok && part.Attributes.Get("href") == *op.Value
}

func (a *Download) edit(w *work, at place) (edit, error) {
	part := at.part
	if !part.IsLink() {
		return edit{}, refuse("“%s” is no link.", part.Name)
	}
	href := part.Attributes.Get("href")
	f, err := w.rest.Download(a.Attachment, href, a.Keep, w.instead)
	if err != nil {
		return edit{}, err
	}
	e := edit{
		kind: OfFile, part: part, name: part.Name, before: part.Text, after: part.Text, files: []Brought{f},
		ops: []change.Op{{Op: change.SetAttribute, Part: part.ID, Name: "href", Value: &f.Src}},
	}
	said := file.Resaid(part.Text, f.Info)
	if said != part.Text && onlyWords(part) {
		e.after = said
		e.ops = append(e.ops, change.Op{Op: change.SetWords, Part: part.ID, HTML: change.EscapeText(said)})
	}
	to := "leads to " + f.Path
	if f.WasHash != "" {
		to = "the file under its address is replaced"
	}
	e.say = fmt.Sprintf("%s: %s (%s)", part.Name, to, f.Words())
	return e, nil
}

// onlyWords reports whether a part holds words and nothing else.
func onlyWords(part *page.Part) bool {
	for _, n := range part.Content() {
		if !n.IsText() {
			return false
		}
	}
	return len(part.Parts) == 0
}

// asDownloads is how a page has its files to download.
type asDownloads struct {
	href  string // of one of them, beside which new files go
	class string // of the links
	tail  string // what the words end with, telling kind and weight; empty where the page has none
}

func downloadsLike(p *page.Page) (l asDownloads) {
	for _, q := range p.All {
		if !q.IsLink() {
			continue
		}
		href := q.Attributes.Get("href")
		if _, is := file.IsAddress(href); !is {
			continue
		}
		l.href, l.class = cmp.Or(l.href, href), cmp.Or(l.class, q.Attributes.Get("class"))
		if s := file.SaidOf(q.Text); s.Kind != "" && s.Weight != "" && l.tail == "" {
			l.tail = tail.FindString(q.Text)
		}
	}
	return l
}

// tail is how words end that tell of a file: “(PDF, 84 kB)”, “– PDF, 84 kB”.
var tail = regexp.MustCompile(`(?:\s*\([^()]*\)|\s+[–—-]\s+[^–—-]*|\s*,\s+\pL+[^,]*,[^,]*)$`)

// tells is how the page's words tell of a file, put after those of a new link.
func (l asDownloads) tells(i file.Info) string {
	if s := file.SaidOf(l.tail); s.Kind != "" && s.Weight != "" {
		return file.Resaid(l.tail, i)
	}
	return " (" + i.Words() + ")"
}

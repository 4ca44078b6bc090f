package act

import (
	"fmt"
	"html"
	"net/url"
	"strconv"
	"strings"

	"mendry/internal/core/change"
	"mendry/internal/core/link"
	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/video"
)

// PutVideo puts a film or a sound between blocks, or makes one that was put in by the same request otherwise. Nothing
// of it is loaded before a visitor asks: a film shows its cover until then.
type PutVideo struct {
	Part       string       `json:"part"`                    // beside which; or the film itself, where Where is empty
	Where      change.Where `json:"where,omitempty"`         // before or after
	Attachment int64        `json:"attachment_id,omitempty"` // a film or sound of one's own
	Address    string       `json:"address,omitempty"`       // or where it plays
	Cover      Pick         `json:"cover,omitzero"`          // what a film shows before it is asked for
	Title      string       `json:"title"`
	Captions   int64        `json:"captions_id,omitempty"` // a file of captions (WebVTT), for a film of one's own
}

// Plays is what plays a film that is not the site's own.
type Plays struct {
	video.Player
	Media string // of a file that a browser plays by itself; empty for a page
	Frame bool   // Src may stand in a frame
}

var _ = register("put-video", func() Act { return &PutVideo{} })

func (a *PutVideo) do(w *work) error {
	a.Title, a.Address = strings.TrimSpace(a.Title), strings.TrimSpace(a.Address)
	switch {
	case w.draft.Page().Doc.Format == source.Markdown:
		return refuse("A page in Markdown holds no film. Put a picture in, and link it to where the film plays.")
	case a.Title == "":
		return refuse("Say what it shows or plays: the title is what people read before they choose it.")
	case a.Attachment == 0 && a.Address == "":
		return refuse("No film and no sound is chosen.")
	case a.Attachment != 0 && a.Address != "":
		return refuse("Choose a file or an address, not both.")
	}
	at, err := w.spot(a.Part, a.Where)
	if err != nil {
		return err
	}
	m := film{PutVideo: a, page: at.base, files: files{rest: w.rest, instead: at.instead}}
	markup, err := m.markup()
	if err != nil {
		return err
	}
	what := "New film"
	if m.sound {
		what = "New sound"
	}
	e := edit{
		kind: OfVideo, name: page.Quoted(page.Short(a.Title, 36)), pictures: m.files.all, files: m.brought, film: a, after: m.cover.Src,
		say: fmt.Sprintf("%s %s %s: “%s”, %s", what, whereSays[at.where], page.Quoted(at.beside.Name), page.Short(a.Title, 60), m.from),
		ops: []change.Op{at.insert(markup)},
	}
	if err := w.settle(at.k, at.base, e); err != nil {
		return err
	}
	w.takeFirst((*page.Part).Held)
	return nil
}

// film is one as it is being put in.
type film struct {
	*PutVideo
	page    *page.Page
	files   files
	brought []Brought
	cover   File
	sound   bool
	from    string // where it plays from, in words
}

// usualShape and usualWide are what a cover is cut to where nobody said otherwise: the shape of most films, wide
// enough for a column on a sharp screen (common practice, no source).
const usualShape, usualWide = "16:9", 1280

func (m *film) markup() (string, error) {
	like := picturesLike(m.page)
	var inner string
	var err error
	if m.Attachment != 0 {
		inner, err = m.own(like)
	} else {
		inner, err = m.elsewhere(like)
	}
	if err != nil {
		return "", err
	}
	open := "<figure"
	if like.class != "" {
		open += ` class="` + html.EscapeString(like.class) + `"`
	} else {
		open += ` style="` + inline[""] + `"`
	}
	return open + ">" + inner + "<figcaption>" + change.EscapeText(m.Title) + "</figcaption></figure>", nil
}

// shows makes the cover.
func (m *film) shows(like like) error {
	pick := m.Cover
	if pick.none() {
		return refuse("Choose a cover: it is all that is seen of the film before it is asked for.")
	}
	if pick.Work.Shape == "" && pick.Work.Crop == nil {
		pick.Work.Shape = usualShape
	}
	if pick.Work.Width == 0 {
		pick.Work.Width = usualWide
	}
	var err error
	if m.cover, err = m.files.make(pick, like.src); err == nil && m.cover.Fixed { // a drawing is not cut
		pick.Work = m.Cover.Work
		m.files.all = nil
		m.cover, err = m.files.make(pick, like.src)
	}
	return err
}

// own is a film or sound of the site's own files.
func (m *film) own(like like) (string, error) {
	f, err := m.files.rest.Download(m.Attachment, "", false, m.files.instead)
	if err != nil {
		return "", err
	}
	m.brought, m.from = []Brought{f}, f.Words()
	if !f.Sound() && !f.Film() {
		return "", refuse("%s is neither a film nor a sound. Put it on the page as a file to download.", f.Name)
	}
	if m.sound = f.Sound(); m.sound {
		return m.plays(f.Src, f.Media), nil
	}
	if err := m.shows(like); err != nil {
		return "", err
	}
	err = m.tracks()
	return m.plays(f.Src, f.Media), err
}

// tracks brings the captions.
func (m *film) tracks() error {
	if m.Captions == 0 {
		return nil
	}
	f, err := m.files.rest.Download(m.Captions, m.brought[0].Src, false, m.files.instead)
	if err != nil {
		return err
	}
	if f.Media != "text/vtt" {
		return refuse("%s holds no captions that a browser shows. Send a WebVTT file (.vtt).", f.Name)
	}
	m.brought = append(m.brought, f)
	return nil
}

// elsewhere is a film that plays from another site.
func (m *film) elsewhere(like like) (string, error) {
	kind, to, _ := link.Of("http://site.example/", "/", m.Address)
	if kind != link.Outside {
		return "", refuse("“%s” is no address of another site. It begins with https://.", m.Address)
	}
	p, err := m.files.rest.Plays(to)
	if err != nil {
		return "", err
	}
	u, err := url.Parse(p.Src)
	if err != nil {
		return "", refuse("“%s” is no address that a visitor can follow.", p.Src)
	}
	m.from = "plays from " + u.Host
	if m.sound = strings.HasPrefix(p.Media, "audio/"); m.sound {
		return m.plays(p.Src, p.Media), nil
	}
	if err := m.shows(like); err != nil {
		return "", err
	}
	switch {
	case p.Media != "":
		return m.plays(p.Src, p.Media), nil
	case p.Frame:
		return m.frame(p, u.Host), nil
	}
	return `<a href="` + html.EscapeString(
		p.Src,
	) + `" target="_blank" rel="noopener">` + m.still(
		"max-width:100%;height:auto",
	) + "</a>", nil
}

// still is the cover as a picture; what it leads to is said by its alternative text.
func (m *film) still(style string) string {
	img := `<img src="` + html.EscapeString(m.cover.Src) + `" alt="` + html.EscapeString("▶ "+m.Title) + `"`
	if m.cover.Width > 0 {
		img += fmt.Sprintf(` width="%d" height="%d"`, m.cover.Width, m.cover.Height)
	}
	return img + ` style="` + style + `">`
}

// plays is an element with which a browser plays a file by itself. preload="none" (HTML, 4.8.11.5): nothing is fetched
// before it is asked for; captions are found in the file that was brought with it.
func (m *film) plays(src, media string) string {
	attribute := func(name, value string) string { return " " + name + `="` + html.EscapeString(value) + `"` }
	tag, more := "video", ""
	switch {
	case m.sound:
		tag, more = "audio", attribute("style", "width:100%")
	default:
		more = attribute("poster", m.cover.Src)
		if m.cover.Width > 0 {
			more += attribute("width", strconv.Itoa(m.cover.Width)) + attribute("height", strconv.Itoa(m.cover.Height))
		}
		more += ` playsinline` + attribute("style", "max-width:100%;height:auto")
	}
	out := "<" + tag + ` controls preload="none"` + attribute("title", m.Title) + more + ">" +
		"<source" + attribute("src", src) + attribute("type", media) + ">"
	for _, f := range m.brought[min(1, len(m.brought)):] {
		out += "<track" + attribute("kind", "captions") + attribute("src", f.Src) + attribute("srclang", m.lang()) +
			attribute("label", strings.ToUpper(m.lang())) + " default>"
	}
	return out + `<a href="` + html.EscapeString(src) + `">` + change.EscapeText(m.Title) + "</a></" + tag + ">"
}

func (m *film) lang() string {
	lang, _, _ := strings.Cut(m.page.Facts.Lang, "-")
	if lang == "" {
		return "en"
	}
	return lang
}

// frame is a player of another site in a frame that holds the cover until it is chosen (HTML, 4.8.5, srcdoc): a link,
// so that it works without a script and the other site learns of no visitor who does not ask.
func (m *film) frame(p Plays, from string) string {
	shape := "16/9"
	if p.Width > 0 && p.Height > 0 {
		shape = fmt.Sprintf("%d/%d", p.Width, p.Height)
	}
	doc := `<!doctype html><html lang="` + html.EscapeString(
		m.lang(),
	) + `"><title>` + html.EscapeString(
		m.Title,
	) + `</title>` +
		`<style>body{margin:0;background:#000}a{display:block;height:100vh}img{display:block;width:100%;height:100%;object-fit:cover}` +
		`span{position:absolute;left:0;right:0;bottom:0;padding:.7em 1em;font:1rem/1.3 sans-serif;color:#fff;background:rgba(0,0,0,.75)}</style>` +
		`<a href="` + html.EscapeString(
		p.Src,
	) + `"><img src="` + html.EscapeString(
		m.cover.Src,
	) + `" alt=""><span>▶ ` +
		html.EscapeString(
			m.Title,
		) + " – " + html.EscapeString(
		from,
	) + `</span></a></html>`
	return `<iframe srcdoc="` + html.EscapeString(
		doc,
	) + `" title="` + html.EscapeString(
		m.Title,
	) + `" loading="lazy" allow="fullscreen" ` +
		`referrerpolicy="strict-origin-when-cross-origin" style="display:block;width:100%;aspect-ratio:` + shape + `;border:0"></iframe>`
}

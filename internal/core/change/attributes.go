package change

import (
	"bytes"
	"strings"

	"mendry/internal/core/page"
	"mendry/internal/core/source"
	"mendry/internal/core/style"
)

func (w *work) setAttribute(part *page.Part, name string, value *string) ([]source.Edit, error) {
	name = strings.ToLower(name)
	switch {
	case part.Background:
		return w.setBackground(part, name, value)
	case w.markdown():
		return w.setMarkdownAttribute(part, name)
	case part.Run != nil:
		return nil, refuse("“%s” has no element of its own, so it has no %s.", part.Name, name)
	}
	return w.setOn(part.Node, name, value)
}

// setOn sets an attribute of an element.
func (w *work) setOn(n *source.Node, name string, value *string) ([]source.Edit, error) {
	d := w.p.Doc
	if name == "" || strings.ContainsAny(name, " \t\r\n\f\"'<>/=\x00") {
		return nil, refuse("%q is no name of an attribute.", name)
	}
	if n.HTML.Namespace != "" || !n.Placed {
		return nil, refuse("Attributes of this element are kept as they are.")
	}
	old, has := d.Attribute(n, name)
	if value == nil {
		if !has {
			return nil, nil
		}
		w.plan.SetAttribute(n.HTML, name, nil)
		return []source.Edit{{Span: old.Whole}}, nil
	}
	raw, err := w.encode(escapeAttribute(*value))
	if err != nil {
		return nil, err
	}
	now := source.ReadAttribute(raw)
	w.plan.SetAttribute(n.HTML, name, &now)
	switch {
	case has && old.Bare:
		return []source.Edit{{Span: old.Raw, New: append([]byte{'='}, quote(raw)...)}}, nil
	case has && old.Quote == 0:
		return []source.Edit{{Span: old.Raw, New: quote(raw)}}, nil
	case has:
		return []source.Edit{source.Narrow(d.Bytes, source.Edit{Span: old.Raw, New: between(raw, old.Quote)})}, nil
	}
	at := n.Start() + 1
	for at < n.InnerStart()-1 && d.Bytes[at] != ' ' && d.Bytes[at] != '\t' && d.Bytes[at] != '\n' && d.Bytes[at] != '\r' && d.Bytes[at] != '\f' && d.Bytes[at] != '/' {
		at++ // behind the element's name, as it is written
	}
	return []source.Edit{{Span: source.Span{Start: at, End: at}, New: append([]byte(" "+name+"="), quote(raw)...)}}, nil
}

// dress gives an element a class or declarations, in the place of others that leave. Two that are about different
// classes or properties commute, where setting the whole attribute would not.
func (w *work) dress(part *page.Part, op Op) ([]source.Edit, error) {
	if part.Background || w.markdown() || part.Run != nil {
		return nil, refuse("“%s” has no element of its own that could be dressed.", part.Name)
	}
	now, with := part.Attributes.Get(op.Name), ""
	if op.Value != nil {
		with = *op.Value
	}
	switch {
	case op.Name == "class" && !strings.ContainsAny(with, " \t\r\n\f"):
		now = style.Dress(now, op.Without, with)
	case op.Name == "style" && len(op.Without) > 0:
		now = style.Declare(now, op.Without, with)
	default:
		return nil, refuse("“%s” is not how an element is dressed.", op.Name)
	}
	if now == "" {
		return w.setOn(part.Node, op.Name, nil)
	}
	return w.setOn(part.Node, op.Name, &now)
}

// setBackground gives an element another background picture.
func (w *work) setBackground(part *page.Part, name string, value *string) ([]source.Edit, error) {
	if name != "src" || value == nil || *value == "" {
		return nil, refuse("A background picture has only an address.")
	}
	d := w.p.Doc
	address := strings.NewReplacer(`"`, "%22", "'", "%27", "(", "%28", ")", "%29", " ", "%20", "\\", "%5C", "\n", "", ";", "%3B").Replace(*value)
	raw, err := w.encode(escapeAttribute(address))
	if err != nil {
		return nil, err
	}
	a, ok := d.Attribute(part.Node, "style")
	if !ok {
		return nil, refuse("The style attribute is no longer there.")
	}
	e := source.Edit{Span: source.Span{Start: part.Start, End: part.End}, New: raw}
	all := append(append(bytes.Clone(d.Bytes[a.Raw.Start:part.Start]), raw...), d.Bytes[part.End:a.Raw.End]...)
	now := source.ReadAttribute(all)
	w.plan.SetAttribute(part.Node.HTML, "style", &now)
	return []source.Edit{source.Narrow(d.Bytes, e)}, nil
}

// Quoted is the value of an attribute as it is written between quotes like those that it had, and with some where it
// had none (0).
func Quoted(value string, by byte) []byte { return between([]byte(escapeAttribute(value)), by) }

func between(raw []byte, by byte) []byte {
	switch by {
	case 0:
		return quote(raw)
	case '\'':
		return bytes.ReplaceAll(raw, []byte("'"), []byte("&#39;"))
	}
	return raw
}

func quote(raw []byte) []byte { return append(append([]byte{'"'}, raw...), '"') }

func escapeAttribute(s string) string {
	return inQuotes.Replace(s)
}

var (
	inQuotes = strings.NewReplacer("&", "&amp;", `"`, "&quot;", "<", "&lt;", ">", "&gt;")
	inText   = strings.NewReplacer("&", "&amp;", "<", "&lt;", ">", "&gt;")
)

// EscapeText writes s as running text.
func EscapeText(s string) string {
	return inText.Replace(s)
}

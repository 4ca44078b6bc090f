package text

import "golang.org/x/net/html"

// terms cleans the terms and their descriptions of a description list, which may be grouped.
func (c *cleaner) terms(dl, n *html.Node) {
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		switch {
		case k.Type == html.CommentNode:
			c.comment(k)
		case k.Type != html.ElementNode:
		case k.Data == "dt" || k.Data == "dd":
			c.attributes(k)
			t := newElement(k.Data)
			dl.AppendChild(t)
			c.oneRun(t, k)
		default:
			c.terms(dl, k)
		}
	}
}

// oneRun cleans n's children into out, which holds one run of words.
func (c *cleaner) oneRun(out, n *html.Node) {
	box := newElement("body")
	c.block(box, n)
	c.tidy(box)
	flat := c.flatten(box)
	for flat.FirstChild != nil {
		k := flat.FirstChild
		flat.RemoveChild(k)
		out.AppendChild(k)
	}
}

func (c *cleaner) items(l, n *html.Node) {
	for k := n.FirstChild; k != nil; k = k.NextSibling {
		switch {
		case k.Type == html.CommentNode:
			c.comment(k)
		case k.Type == html.ElementNode && (k.Data == "ul" || k.Data == "ol") && l.LastChild != nil:
			c.oneBlock(l.LastChild, k) // a list right in a list belongs to the item before it
		case k.Type == html.ElementNode:
			c.item(l, k)
		}
	}
}

func (c *cleaner) item(l, n *html.Node) {
	c.attributes(n)
	li := newElement("li")
	l.AppendChild(li)
	c.block(li, n)
	for k := li.FirstChild; k != nil; {
		next := k.NextSibling
		if k.Data == "p" { // words of an item need no paragraph
			if k.PrevSibling != nil && k.PrevSibling.Data != "ul" && k.PrevSibling.Data != "ol" {
				li.InsertBefore(newElement("br"), k)
			}
			for k.FirstChild != nil {
				w := k.FirstChild
				k.RemoveChild(w)
				li.InsertBefore(w, k)
			}
			li.RemoveChild(k)
		}
		k = next
	}
}

package desk

import (
	"bytes"
	"mendry/internal/core/page"
	"strings"
	"testing"

	"golang.org/x/net/html"
)

// The script comes before everything that is shown, and the page is read as without it. What goes into the head of a
// page, also of one whose head is not written, is told by golang.org/x/net/html, which follows the HTML standard.
func TestScriptStandsFirst(t *testing.T) {
	t.Parallel()
	for _, page := range []string{
		"<!doctype html><html lang=en><head><title>A</title></head><body><p>B</body></html>",
		"\ufeff<!DOCTYPE html>\r\n<!-- made by hand -->\r\n<html>\r\n<head>\r\n<meta charset=utf-8></head><body>x</body></html>",
		"<!doctype html><title>A</title><p>B",
		"<!doctype html><p>B",
		"<p>no doctype, so quirks",
		"only words",
		"<html><body class=x><h1>A</h1>",
		"<?xml version=\"1.0\"?><!DOCTYPE html PUBLIC \"-//W3C//DTD XHTML 1.0 Strict//EN\" \"http://www.w3.org/TR/xhtml1/DTD/xhtml1-strict.dtd\">\n<html xmlns=\"http://www.w3.org/1999/xhtml\"><head><title>A</title></head><body/></html>",
		"",
	} {
		got := scripted([]byte(page), "abc")
		if without := bytes.Replace(got, []byte(benchScript("abc")), nil, 1); string(without) != page {
			t.Errorf("%q: the page's own bytes are %q", page, without)
		}
		tree, err := html.Parse(bytes.NewReader(got))
		if err != nil {
			t.Fatal(err)
		}
		head, body := element(tree, "head"), element(tree, "body")
		first := head.FirstChild
		for first != nil && first.Type != html.ElementNode {
			first = first.NextSibling
		}
		if first == nil || first.Data != "script" || element(body, "script") != nil {
			t.Errorf("%q: the script is not the first in the head: %s", page, got)
		}
		plain, err := html.Parse(bytes.NewReader([]byte(page)))
		if err != nil {
			t.Fatal(err)
		}
		first.Parent.RemoveChild(first)
		var a, b bytes.Buffer
		if html.Render(&a, plain) != nil || html.Render(&b, tree) != nil || a.String() != b.String() {
			t.Errorf("%q is read as\n%s\nwith the script, and without as\n%s", page, b.String(), a.String())
		}
	}
}

func element(n *html.Node, name string) *html.Node {
	for d := range n.Descendants() {
		if d.Type == html.ElementNode && d.Data == name {
			return d
		}
	}
	return nil
}

// Captions of a film of the site are asked for as those of another origin, since a preview has none of its own; films
// of other sites are left as they are, and so is what says how it is asked for.
func TestCaptionsShowInPreviews(t *testing.T) {
	t.Parallel()
	for was, asked := range map[string]bool{
		`<video src="/a.mp4" controls><track src="/a.vtt"></video>`:                      true,
		`<video controls><source src="a.webm"><track src="/a.vtt"></video>`:              true,
		`<video src="/a.mp4"></video>`:                                                   false,
		`<video src="https://films.example/a.mp4"><track src="/a.vtt"></video>`:          false,
		`<video crossorigin="use-credentials" src="/a.mp4"><track src="/a.vtt"></video>`: false,
	} {
		p, err := page.Parse([]byte(`<html><head><title>A</title></head><body><h1>A</h1>`+was+`</body></html>`), "")
		if err != nil {
			t.Fatal(err)
		}
		got := string(mark(p))
		if strings.Contains(got, " crossorigin ") != asked {
			t.Errorf("%s: %s", was, got)
		}
	}
}

package text

import "testing"

// More fragments of the kinds that are on the clipboard, each with what is left of it. They were written for this test
// after the shape of such fragments (from memory, no source); the words are invented. That q, abbr, dl, lang, hidden
// and the rest mean what they do: HTML, 4.5, 4.4.9, 3.2.6 and 6.1; that font is a shorthand: CSS Fonts, 2.7.
func TestFragments(t *testing.T) {
	t.Parallel()
	for _, c := range []struct{ name, in, want string }{
		// what word processors note beside the words
		{"a comment's mark", `<p>Fares<span class=MsoCommentReference><a class=msocomanchor id="_anchor_1" href="#_msocom_1">[A1]</a></span> rise</p>`, `<p>Fares rise</p>`},
		{"the comments below", `<p>Fares</p><div style='mso-element:comment-list'><div class=msocomtxt><p>Is that so?</p></div></div>`, `<p>Fares</p>`},
		{"the comments of a page that a word processor wrote", `<p>Fares<a href="fares.htm#_msocom_1">[IO1]</a> rise</p><div><hr class=msocomoff><div id="_com_1"><p>Is that so?</p></div></div>`, `<p>Fares rise</p>`},
		{"a comment's mark in a shared document", `<p>Fares<sup><a href="#cmnt1" id="cmnt_ref1">[a]</a></sup> rise</p>`, `<p>Fares rise</p>`},
		{"words that were struck out", `<p>From <del cite="mailto:Ann" datetime="2026-11-02T10:00">£6.90</del><ins cite="mailto:Ann" datetime="2026-11-02T10:00">£7.40</ins></p>`, `<p>From £7.40</p>`},
		{"words struck out, by class", `<p>From <span class=msoDel>£6.90 </span><span class=msoIns>£7.40</span></p>`, `<p>From £7.40</p>`},
		{"words struck through, to be seen", `<p>From <del>£6.90</del> <ins>£7.40</ins></p>`, `<p>From <s>£6.90</s> <u>£7.40</u></p>`},
		{"a field of a word processor", `<p><!--[if supportFields]><span>PAGE</span><![endif]-->Fares</p>`, `<p>Fares</p>`},
		{"a bookmark", `<p><a name="_Toc1">Fares</a></p>`, `<p>Fares</p>`},
		// text that is not to be seen
		{"hidden by an attribute", `<p>Open<span hidden>spy</span></p>`, `<p>Open</p>`},
		{"not displayed", `<p>Open</p><div style="display : none"><p>spy</p></div>`, `<p>Open</p>`},
		{"not visible", `<p>Open<b style="visibility:hidden">spy</b></p>`, `<p>Open</p>`},
		{"without size", `<p>Open<span style="color:red;font-size:0px">spy</span></p>`, `<p>Open</p>`},
		{"see-through", `<p>Open<span style="opacity: 0">spy</span></p>`, `<p>Open</p>`},
		{"beside the screen", `<div style="position:absolute;left:-9999px">spy</div><p>Open</p>`, `<p>Open</p>`},
		{"cut off", `<div style="max-height:0;overflow:hidden">A line that mails show before they are opened</div><p>Open</p>`, `<p>Open</p>`},
		{"clipped", `<p>Open<span style="clip: rect(0 0 0 0)">spy</span></p>`, `<p>Open</p>`},
		{"white on white", `<p>Open<span style="color:#fff;background:#fff">spy</span></p>`, `<p>Open</p>`},
		{"without ink", `<p>Open<span style="color:transparent">spy</span></p>`, `<p>Open</p>`},
		{"for screen readers alone", `<p><span class="visually-hidden">Skip</span>Open</p>`, `<p>Open</p>`},
		{"half see-through is seen", `<p>Open<span style="opacity:0.5"> now</span></p>`, `<p>Open now</p>`},
		{"black on white is seen", `<p><span style="color:#000;background:#fff">Open</span></p>`, `<p>Open</p>`},
		// links that take a detour
		{"by way of a search", `<p><a href="https://www.search.example/url?sa=t&amp;url=https%3A%2F%2Fferry.example%2Ffares&amp;usg=x">Fares</a></p>`, `<p><a href="https://ferry.example/fares">Fares</a></p>`},
		{"by way of a network", `<p><a href="https://l.social.example/l.php?u=https%3A%2F%2Fferry.example%2F&amp;h=AT0">Fares</a></p>`, `<p><a href="https://ferry.example/">Fares</a></p>`},
		{"by way of a mail program", `<p><a href="https://eur01.safelinks.mail.example/?url=https%3A%2F%2Fferry.example%2Ffares%3Fa%3D1&amp;data=05&amp;reserved=0">Fares</a></p>`, `<p><a href="https://ferry.example/fares?a=1">Fares</a></p>`},
		{"wrapped by a mail program", `<p><a href="https://defense.mail.example/v3/__https://ferry.example/fares__;!!AbC$">Fares</a></p>`, `<p><a href="https://ferry.example/fares">Fares</a></p>`},
		{"a detour to a target with tracking", `<p><a href="https://go.mail.example/r?to=https%3A%2F%2Fferry.example%2F%3Futm_source%3Dx">Fares</a></p>`, `<p><a href="https://ferry.example/">Fares</a></p>`},
		{"a search that was meant", `<p><a href="https://search.example/find?q=ferry">Fares</a></p>`, `<p><a href="https://search.example/find?q=ferry">Fares</a></p>`},
		{"an address in an address that is no detour", `<p><a href="https://check.example/report?url=https%3A%2F%2Fferry.example%2F">Report</a></p>`, `<p><a href="https://check.example/report?url=https%3A%2F%2Fferry.example%2F">Report</a></p>`},
		{"a detour to a script", `<p><a href="https://go.mail.example/r?to=javascript:alert(1)">Fares</a></p>`, `<p><a href="https://go.mail.example/r?to=javascript:alert(1)">Fares</a></p>`},
		// footnotes
		{"a word processor's footnote", `<p>Dogs go free.<a style='mso-footnote-id:ftn1' href="#_ftn1" name="_ftnref1"><span class=MsoFootnoteReference>[1]</span></a></p><div style='mso-element:footnote-list'><div id=ftn1><p>On a lead.</p></div></div>`, `<p>Dogs go free.</p>`},
		{"an encyclopedia's footnote", `<p>Dogs go free.<sup id="cite_ref-3" class="reference"><a href="#cite_note-3">[3]</a></sup></p>`, `<p>Dogs go free.</p>`},
		{"a built page's footnote", `<p>Dogs go free.<sup id="fnref:1"><a href="#fn:1" class="footnote">1</a></sup></p>`, `<p>Dogs go free.</p>`},
		{"the way back from a footnote", `<p>On a lead. <a href="#fnref:1" class="footnote-backref">↩</a></p>`, `<p>On a lead.</p>`},
		{"a link within the page that is words", `<p>See <a href="#footnotes">the notes</a></p>`, `<p>See <a href="#footnotes">the notes</a></p>`},
		{"a raised letter", `<p>The 1<sup>st</sup>, m<sup>2</sup></p>`, `<p>The 1<sup>st</sup>, m<sup>2</sup></p>`},
		// what pages put beside words
		{"a link to edit", `<h2>Fares<span class="mw-editsection">[<a href="/edit">edit</a>]</span></h2>`, `<h2>Fares</h2>`},
		{"a sign to link by", `<h2>Fares<a class="headerlink" href="#fares" title="Link">¶</a></h2>`, `<h2>Fares</h2>`},
		{"a sign without a class", `<h2>Fares <a href="#fares">#</a></h2>`, `<h2>Fares</h2>`},
		{"a button to copy", `<p>Call 01632 960110 <button>Copy</button></p>`, `<p>Call 01632 960110</p>`},
		{"what acts as a button", `<p>Fares <span role="button" tabindex=0>Show more</span></p>`, `<p>Fares</p>`},
		// mails
		{"a quoted mail", `<div>Dear Ines</div><blockquote type="cite"><div>Which fares?</div></blockquote>`, `<p>Dear Ines</p>`},
		{"a quoted mail, by class", `<div>Dear Ines</div><div class="mail_quote"><div>On Monday Ines wrote:</div><blockquote>Which?</blockquote></div>`, `<p>Dear Ines</p>`},
		{"what stands below the line", `<p>Dear Ines</p><p>-----Original Message-----</p><p>From: Ines</p><p>Which fares?</p>`, `<p>Dear Ines</p>`},
		{"what stands below who wrote when", `<p>Dear Ines</p><p>On 24 November 2026 at 09:12, Ines Oakley &lt;ines@studio.example&gt; wrote:</p><p>&gt; Which fares?</p>`, `<p>Dear Ines</p>`},
		{"a quote that is one", `<p>They say:</p><blockquote><p>On a lead.</p></blockquote>`, `<p>They say:</p><blockquote><p>On a lead.</p></blockquote>`},
		{"on, as a word", `<p>On Monday we wrote: closed.</p><p>Open</p>`, `<p>On Monday we wrote: closed.</p><p>Open</p>`},
		// lists that were typed
		{"typed bullets", `<p>• Soak</p><p>• Sow</p><p>Then wait.</p>`, `<ul><li>Soak</li><li>Sow</li></ul><p>Then wait.</p>`},
		{"typed hyphens", `<p>Bring:</p><p>- a lead</p><p>- a bowl</p>`, `<p>Bring:</p><ul><li>a lead</li><li>a bowl</li></ul>`},
		{"typed hyphens, by lines", `<p>Bring:<br>- a lead<br>- a bowl</p>`, `<p>Bring:</p><ul><li>a lead</li><li>a bowl</li></ul>`},
		{"typed numbers", `<p>1. Soak</p><p>2. Sow</p>`, `<ol><li>Soak</li><li>Sow</li></ol>`},
		{"numbers that do not count", `<p>12. December</p><p>13. December</p>`, `<p>12. December</p><p>13. December</p>`},
		{"one hyphen", `<p>- or so</p><p>we think</p>`, `<p>- or so</p><p>we think</p>`},
		{"an address by lines", `<p>South Quay<br>Heron Island</p>`, `<p>South Quay<br>Heron Island</p>`},
		// tables and lists of terms
		{"a table of one row", `<table><tr><td>Adult</td><td>£7.40</td></tr></table>`, `<table><tbody><tr><td>Adult</td><td>£7.40</td></tr></tbody></table>`},
		{"a table with a head", `<table><thead><tr><th>For</th><th>Fare</th></tr></thead><tbody><tr><td>Adult</td><td>£7.40</td></tr></tbody></table>`, `<table><thead><tr><th>For</th><th>Fare</th></tr></thead><tbody><tr><td>Adult</td><td>£7.40</td></tr></tbody></table>`},
		{"a table that is all head", `<table><thead><tr><th>For</th><th>Fare</th></tr><tr><td>Adult</td><td>£7.40</td></tr></thead></table>`, `<table><thead><tr><th>For</th><th>Fare</th></tr></thead><tbody><tr><td>Adult</td><td>£7.40</td></tr></tbody></table>`},
		{"one row that lays out", `<table><tr><td><p>Long words one.</p><p>More.</p></td><td><p>Aside</p></td></tr></table>`, `<p>Long words one.</p><p>More.</p><p>Aside</p>`},
		{"one row with a picture", `<table><tr><td><img src=a.png></td><td>Aside</td></tr></table>`, `<p>Aside</p>`},
		{"terms", `<dl><dt>Adult</dt><dd>from 16</dd><div><dt>Child</dt><dd>from <b>four</b></dd></div></dl>`, `<dl><dt>Adult</dt><dd>from 16</dd><dt>Child</dt><dd>from <strong>four</strong></dd></dl>`},
		// marks that stay
		{"bold by style", `<p><span style="font-weight:700">Now</span> open</p>`, `<p><strong>Now</strong> open</p>`},
		{"bold by the shorthand", `<p><span style="font: italic bold 12px/1.2 Arial">Now</span> open</p>`, `<p><em><strong>Now</strong></em> open</p>`},
		{"a quote within words", `<p>They say <q>on a lead</q>.</p>`, `<p>They say “on a lead”.</p>`},
		{"an abbreviation", `<p>The <abbr title="Royal Seed Society" class=x>RSS</abbr> lends</p>`, `<p>The <abbr title="Royal Seed Society">RSS</abbr> lends</p>`},
		{"another language", `<p>It has <i lang="fr">savoir faire</i></p>`, `<p>It has <span lang="fr"><em>savoir faire</em></span></p>`},
		{"the language of all of it", `<p lang="en-GB"><span lang="en-US">Color</span></p>`, `<p>Color</p>`},
		{"another language in a dressed text", `<p><span lang=EN-GB style="font:x">It has all of this</span> <span lang=FR style="font:x">tact</span></p>`, `<p>It has all of this <span lang="FR">tact</span></p>`},
		{"two other languages side by side", `<p>It has <i lang="fr">tact</i><i lang="la">et alia</i></p>`, `<p>It has <span lang="fr"><em>tact</em></span><span lang="la"><em>et alia</em></span></p>`},
		{"a paragraph in another language", `<p>It has tact, and more of it than others.</p><p lang="fr">Avec tact</p>`, `<p>It has tact, and more of it than others.</p><p><span lang="fr">Avec tact</span></p>`},
		{"words that run the other way", `<p>Open <span dir="rtl" lang="he">שלום</span> now, all day</p>`, `<p>Open <span lang="he" dir="rtl">שלום</span> now, all day</p>`},
		{"a way that tells nothing", `<p dir="ltr"><span dir="ltr">Open</span></p>`, `<p>Open</p>`},
		{"a way back within words that run the other way", `<p dir="rtl">שלום <b dir="ltr">Mendry</b></p>`, `<p><span dir="rtl">שלום <span dir="ltr"><strong>Mendry</strong></span></span></p>`},
		{"words that are marked", `<p>Now <mark style="background:yellow">open</mark></p>`, `<p>Now <mark>open</mark></p>`},
		{"raised by style", `<p>m<span style="vertical-align:super">2</span></p>`, `<p>m<sup>2</sup></p>`},
		{"alignment and colour go", `<p align=center><font color=red>Now</font></p>`, `<p>Now</p>`},
	} {
		got, _ := Clean(c.in, Everything)
		if got != c.want {
			t.Errorf("%s:\n got %s\nwant %s", c.name, got, c.want)
		}
		if again, _ := Clean(got, Everything); again != got {
			t.Errorf("%s: cleaned twice it becomes %s", c.name, again)
		}
	}
}

package demo

import (
	"fmt"
	"strings"
)

// boat is one of Pennyfield's nine, whose pages are built alike.
type boat struct{ file, name, roll, length, berths, model, asked string }

var boats = []boat{
	{"alder", "Alder", "Broad, slow and dry in any weather.", "57", "4", "KW-12", "Alder"},
	{"birch", "Birch", "For two who like to read on deck.", "42", "2", "KW-9", "Birch"},
	{"cedar", "Cedar", "Room for a family and its dog.", "62", "6", "KW-14", "Cedar"},
	{"elm", "Elm", "The oldest boat on the wharf, and the quietest.", "48", "3", "KW-9", "Elm"},
	{"hazel", "Hazel", "A stove, a shelf of books, two bunks.", "40", "2", "KW-8", "Hazel"},
	{"linden", "Linden", "Long enough for a table for eight.", "66", "8", "KW-15", "Linden"},
	{"maple", "Maple", "New last spring, with a real bath.", "60", "6", "KW-14", "Maple"},
	{"rowan", "Rowan", "Steers with one finger.", "50", "4", "KW-10", "Rowan"},
	{"willow", "Willow", "The shallowest draught of them all.", "45", "3", "KW-9", "Willow"},
}

// boatPages are the pages of the fleet, as title, description and body.
func boatPages() map[string][]byte {
	pages := map[string][]byte{}
	var fleet strings.Builder
	for _, b := range boats {
		pages["boats/"+b.file+".html"] = fmt.Appendf(nil, `%[1]s | Pennyfield Canal Hire
%[1]s, a boat of %[3]s feet with %[4]s berths, from Penny Wharf.
<h1>%[1]s</h1>
<p class="roll">%[2]s</p>
<p><img src="/pics/%[6]s.jpg" alt="%[1]s at her mooring" width="880" height="495"></p>
<table class="facts">
<tr><th>Length</th><td>%[3]s ft</td></tr>
<tr><th>Berths</th><td>%[4]s</td></tr>
<tr><th>Model</th><td>%[5]s</td></tr>
</table>
<h2>Ask about her</h2>
<p class="ask">Write to us about %[1]s and we answer within two days. A week costs from £640.</p>
`, b.name, b.roll, b.length, b.berths, b.model, b.file)
		fmt.Fprintf(&fleet, `<article><img src="/pics/%[1]s.jpg" alt="%[2]s at her mooring" width="880" height="495"><h3><a href="/boats/%[1]s.html">%[2]s</a></h3><p>%[3]s ft, %[4]s berths</p></article>
`, b.file, b.name, b.length, b.berths)
	}
	pages["boats/index.html"] = []byte("Our boats | Pennyfield Canal Hire\nNine boats, from forty to sixty-six feet.\n<h1>Our boats</h1>\n<div class=\"fleet\">\n" + fleet.String() + "</div>\n")
	pages["index.html"] = []byte("Pennyfield Canal Hire\nNine boats on a quiet canal.\n<h1>Nine boats on a quiet canal</h1>\n<p>Take one for a week, from £640, or for a day. See <a href=\"/boats/\">all nine</a>.</p>\n")
	return pages
}

func pennyfieldPictures() map[string][]byte {
	pics := map[string][]byte{}
	for i, b := range boats {
		pics["pics/"+b.file+".jpg"] = sea(880, 495, int64(31+i), i%3 == 2, func(c *canvas) {
			c.ferry(rgb(0x20433a+uint32(i)*0x0a0512), rgb(0xf2d98b), 0.24, 0.84, 0.4)
		}).jpeg(80)
	}
	return pics
}

func bramblePictures() map[string][]byte {
	return map[string][]byte{"img/row.jpg": island(900, 560, 23, false).jpeg(82)}
}

func noPictures() map[string][]byte { return nil }

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
<ul class="shots">
<li><img src="/pics/cabin.jpg" alt="The saloon with its stove" width="800" height="600"></li>
<li><img src="/pics/tiller.jpg" alt="From the tiller over the roof" width="800" height="600"></li>
<li><img src="/pics/mooring.jpg" alt="At the mooring in the evening" width="800" height="600"></li>
</ul>
<h2>Ask about her</h2>
<p class="ask">Write to us about %[1]s and we answer within two days. A week costs from £640.</p>
`, b.name, b.roll, b.length, b.berths, b.model, b.file)
		fmt.Fprintf(&fleet, `<article><img src="/pics/%[1]s.jpg" alt="%[2]s at her mooring" width="880" height="495"><h3><a href="/boats/%[1]s.html">%[2]s</a></h3><p>%[3]s ft, %[4]s berths</p></article>
`, b.file, b.name, b.length, b.berths)
	}
	pages["boats/index.html"] = []byte("Our boats | Pennyfield Canal Hire\nNine boats, from forty to sixty-six feet.\n<h1>Our boats</h1>\n<div class=\"fleet\">\n" + fleet.String() + "</div>\n")
	pages["index.html"] = []byte(`Pennyfield Canal Hire
Nine boats on a quiet canal, by the day or the week, from Penny Wharf, ten minutes on foot from the station.
<h1>Nine boats on a quiet canal</h1>
<p>Take one for a week, from £640, or for a day. See <a href="/boats/">all nine</a>.</p>
<p><img src="/pics/cedar.jpg" alt="The Cedar under the trees at Penny Wharf" width="1100" height="619"></p>
<h2>Slowly</h2>
<p>Four miles an hour, and everybody overtakes you on foot. There are eleven locks between here and Marsh End, and a swing bridge that children may open.</p>
<h2>For a first time</h2>
<p>You need no licence. <a href="/first-day.html">Your first day</a> begins with an hour of lessons, and <a href="/prices.html">it is in the price</a>.</p>
`)
	return pages
}

func pennyfieldPictures() map[string][]byte {
	pics := map[string][]byte{
		"pics/cabin.jpg":   cabin(800, 600, 51).jpeg(82),
		"pics/tiller.jpg":  canal(800, 600, 52, 0x24323a, 0x8a2f1d).jpeg(82),
		"pics/mooring.jpg": canal(800, 600, 53, 0x1d4338, 0xc9a24e).jpeg(82),
		"pics/lock.jpg":    lock(1200, 675, 54).jpeg(82),
	}
	hulls := []uint32{0x1d4338, 0x24323a, 0x5a1f1b, 0x2b2f4a, 0x3a3a2a}
	cabins := []uint32{0x8a2f1d, 0x2f6a5a, 0xc9a24e, 0x3b5d86, 0x6b4a7c}
	for i, b := range boats {
		pics["pics/"+b.file+".jpg"] = canal(1100, 619, int64(31+i), hulls[i%5], cabins[(i*2)%5]).jpeg(82)
	}
	return pics
}

func bramblePictures() map[string][]byte {
	return map[string][]byte{
		"img/row.jpg":      garden(900, 560, 23, "beans").jpeg(82),
		"img/jars.jpg":     garden(1000, 620, 24, "jars").jpeg(84),
		"img/frame.jpg":    garden(1000, 620, 25, "frame").jpeg(82),
		"img/tomatoes.jpg": garden(1000, 620, 26, "tomatoes").jpeg(82),
	}
}

func fenwickPictures() map[string][]byte {
	return map[string][]byte{
		"img/stage.jpg":        stage(1600, 800, 61).jpeg(84),
		"img/stage-narrow.jpg": stage(780, 780, 61).jpeg(84),
		"img/clockmaker.jpg":   poster(600, 840, 62, "clock").jpeg(86),
		"img/wren.jpg":         poster(600, 840, 63, "lantern").jpeg(86),
		"img/tide.jpg":         poster(600, 840, 64, "boat").jpeg(86),
	}
}

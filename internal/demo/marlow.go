package demo

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
)

// museumKite is one of the kites that Marlow's museum shows, each on a page of its own.
type museumKite struct {
	file, name, from, year, built, paper, say string
	one, two                                  uint32
}

var museumKites = []museumKite{
	{"harbour-diamond", "Harbour Diamond", "Marlow", "1921", "diamond", "newspaper", "Made on a kitchen table out of the shipping news.", 0xd43d2a, 0xf9d64a},
	{"post-box", "Post Box", "Aldermere", "1908", "box", "linen", "It carried a camera, and twice a letter.", 0xb93f2a, 0xf2e6cf},
	{"long-eel", "Long Eel", "Tern Bay", "1964", "dragon", "silk", "Forty discs, and two people to hold it.", 0x2f7f8a, 0xf9d64a},
	{"grey-heron", "Grey Heron", "Marlow", "1988", "delta", "nylon", "It stands in no wind at all.", 0x8a99a3, 0xe8e2d2},
	{"lantern-kite", "Lantern Kite", "Fenwick", "1937", "diamond", "tissue", "Flown at night with a candle, until the roof of 1938.", 0xe0912f, 0x3a2340},
	{"red-ladder", "Red Ladder", "Coldwater", "1949", "box", "canvas", "Seven boxes, one above the other.", 0xc2452d, 0xf7f3ea},
	{"school-delta", "School Delta", "Marlow", "2004", "delta", "rip-stop nylon", "Every child of the town has built one.", 0x3b5d86, 0xf9d64a},
	{"sea-dragon", "Sea Dragon", "Tern Bay", "1972", "dragon", "silk", "It won the long tail of 1973.", 0x1d5a63, 0xd43d2a},
	{"widow", "The Widow", "Aldermere", "1899", "diamond", "calico", "Black, and never flown on a Sunday.", 0x22303a, 0x5a6873},
	{"paper-moon", "Paper Moon", "Fenwick", "1955", "diamond", "card", "It turns once in a minute.", 0xf3e2b8, 0x2c3a5c},
	{"gull", "Gull", "Marlow", "1931", "delta", "oiled silk", "Gulls follow it.", 0xf2f2ee, 0x8ea7b4},
	{"twin-box", "Twin Box", "Coldwater", "1911", "box", "linen", "Two boxes on one line; it pulls like a horse.", 0x24547a, 0xd2983a},
	{"rainworm", "Rainworm", "Tern Bay", "1990", "dragon", "bin bags", "Made of what there was.", 0x7a5030, 0xc98a86},
	{"blue-door", "Blue Door", "Marlow", "1978", "diamond", "a door’s paint", "It is as large as the door that it was cut from.", 0x2f6da3, 0xe6eef1},
	{"tailor", "The Tailor", "Aldermere", "1926", "delta", "suit lining", "Sewn with eleven hundred stitches.", 0x4b3a78, 0xb7a48c},
	{"snow-box", "Snow Box", "Coldwater", "1933", "box", "linen", "White on white: it was lost twice in the sky.", 0xf4f7f9, 0xcfd9df},
	{"market-dragon", "Market Dragon", "Fenwick", "1969", "dragon", "silk", "It danced over the stalls until the cheese incident.", 0xb8402c, 0x5b8c3a},
	{"small-wing", "Small Wing", "Marlow", "2011", "delta", "tracing paper", "It weighs as much as a letter.", 0xd9c9a1, 0x5f8079},
	{"bread-kite", "Bread Kite", "Tern Bay", "1917", "diamond", "flour sacks", "The mill’s name can still be read.", 0xe2d0a6, 0x8a6238},
	{"evening", "Evening", "Aldermere", "1984", "diamond", "silk", "Painted at the hour that it shows.", 0xc98a86, 0x3a4a78},
}

// marlowPages are the museum's forty pages but for its layout, as title, description and body.
func marlowPages() map[string][]byte {
	pages := map[string][]byte{}
	add := func(file, title, description, body string) {
		if title != "Marlow Kite Museum" {
			title += " | Marlow Kite Museum"
		}
		pages[file] = []byte(title + "\n" + description + "\n" + strings.TrimSpace(body) + "\n")
	}
	var shelf, wall strings.Builder
	for i, k := range museumKites {
		picture := fmt.Sprintf(`<img src="/kites/img/%s.jpg" alt="%s in the sky" width="960" height="720" />`, k.file, k.name)
		fmt.Fprintf(&shelf, "<li><a href=\"/kites/%s.html\">%s</a>\n<h3><a href=\"/kites/%s.html\">%s</a></h3><p>%s, %s</p></li>\n", k.file, picture, k.file, k.name, k.from, k.year)
		if i < 8 {
			fmt.Fprintf(&wall, "<li>%s<p>%s</p></li>\n", picture, k.name)
		}
		add("kites/"+k.file+".html", k.name, fmt.Sprintf("%s, a kite of %s from %s, built in %s: what it is made of, how it flies and how it came to the museum in Marlow.", k.name, k.paper, k.from, k.year), fmt.Sprintf(`
<h1>%s</h1>
<p class="lead">%s</p>
<p>%s</p>
<table class="data">
<tr><th>From</th><td>%s</td></tr>
<tr><th>Built in</th><td>%s</td></tr>
<tr><th>Kind</th><td>%s</td></tr>
<tr><th>Made of</th><td>%s</td></tr>
</table>
<p><a href="/kites/">All kites</a></p>`, k.name, k.say, picture, k.from, k.year, k.built, k.paper))
	}
	add("index.html", "Marlow Kite Museum", "Twenty kites in an old sail loft by the beach at Marlow, the stories of those who built them, and a workshop where you build your own and take it outside.", `
<p class="wide"><img src="/img/opening-day.png" alt="Kites over the beach on opening day" width="1600" height="900" /></p>
<h1>Twenty kites under one roof</h1>
<p class="lead">They hang from the beams of an old sail loft, and when the door is open they move.</p>
<p>We are open Tuesday to Sunday. Come at eleven on a windy day, and somebody flies one.</p>
<h2>Begin here</h2>
<ul>
<li><a href="/kites/">The kites</a>, from 1899 to 2011</li>
<li><a href="/workshop/">The workshop</a>, where you build your own</li>
<li><a href="/visit/">Your visit</a></li>
</ul>`)
	add("visit/index.html", "Visit", "When the Marlow Kite Museum is open, how long a visit takes, what there is to eat and where the wind is best on the beach below the old sail loft in town.", `
<h1>Visit</h1>
<p>We are open Tuesday to Sunday from 10 to 17. A visit takes an hour, and two if you fly.</p>
<h2>On windy days</h2>
<p>At eleven somebody takes a kite to the beach. You may hold the line.</p>
<h2>The café</h2>
<p>Scones until they are gone.</p>`)
	add("visit/prices.html", "Prices", "What the Marlow Kite Museum costs for adults, children and families, what the workshop costs with paper and string, and who comes in for nothing at all.", `
<h1>Prices</h1>
<table class="data">
<tr><th>Adults</th><td>$12</td></tr>
<tr><th>Children from 5</th><td>$5</td></tr>
<tr><th>Families</th><td>$28</td></tr>
<tr><th>Workshop, with paper and string</th><td>$18</td></tr>
</table>
<p>Whoever brings a kite to show us comes in free.</p>`)
	add("visit/way.html", "The way here", "How to reach the Marlow Kite Museum on foot from the station, by the shore bus or by car, and where to leave bicycles, cars and long bamboo poles at last.", `
<h1>The way here</h1>
<p>From the station it is nine minutes along Beach Road. The shore bus stops at the door.</p>`)
	add("visit/access.html", "Access", "How to come into the old sail loft with a wheelchair or a pram: the ramp on the beach side, the lift to the beams, the quiet hour, and whom to ask before.", `
<h1>Access</h1>
<p>There is a ramp on the beach side and a lift to the upper floor. Wednesday from 10 to 11 is a quiet hour.</p>`)
	add("visit/groups.html", "Groups", "For groups from ten people on: a guided hour among the kites, a table in the café, and the beach for yourselves when the tide is out and the wind allows it.", `
<h1>Groups</h1>
<p>From ten people on there is a guided hour. Write two weeks before to <a href="mailto:loft@marlow-kites.example">loft@marlow-kites.example</a>.</p>`)
	add("visit/shop.html", "The shop", "What there is in the shop of the Marlow Kite Museum: paper and string by the metre, small kites for pockets, postcards, and a repair bench that costs nothing.", `
<h1>The shop</h1>
<p>Paper and string by the metre, kites for pockets, postcards. The repair bench is free; the jokes of the man behind it are not.</p>`)
	add("kites/index.html", "Kites", "All twenty kites of the Marlow Kite Museum on one shelf, from a diamond made of the shipping news in 1921 to a wing that weighs as much as one single letter.", "<h1>Kites</h1>\n<p class=\"lead\">Every one of them has flown.</p>\n<ul class=\"shelf\">\n"+shelf.String()+"</ul>")
	add("gallery.html", "Gallery", "Eight of our kites in the sky over Marlow beach, photographed by visitors on days when the wind came from the sea and the light came from behind the dunes.", "<h1>Gallery</h1>\n<p>In the air, where they belong. Photographs by visitors.</p>\n<ul class=\"shelf\">\n"+wall.String()+"<li><img src=\"/img/tall.jpg\" alt=\"A child and a kite, on the beach\" width=\"720\" height=\"960\" /><p>The first flight of the year</p></li>\n</ul>")
	add("history/index.html", "History", "How a sail loft became a kite museum: the fire of 1938, the man who could not throw anything away, and the roof that a whole town paid for, tile by tile.", `
<h1>History</h1>
<p>Sails were sewn here until 1951. The kites came later, in a crate that nobody had asked for.</p>
<ul>
<li><a href="/history/maker.html">The man with the crate</a></li>
<li><a href="/history/building.html">The loft</a></li>
</ul>`)
	add("history/maker.html", "The man with the crate", "Who Henry Tolland was, why he had eleven kites in a crate, how he came to Marlow on the night boat in 1962, and what he asked the harbour master at the quay.", `
<h1>The man with the crate</h1>
<p>Henry Tolland came on the night boat in 1962 with eleven kites and no coat. He asked for a high room.</p>`)
	add("history/building.html", "The loft", "The old sail loft in Beach Road: built in 1874, burnt in 1938, roofed again by a town that paid for it tile by tile, and since 1979 a museum full of kites.", `
<h1>The loft</h1>
<p>Built in 1874, burnt in 1938. The roof was paid for tile by tile; look for your grandmother’s name.</p>`)
	add("workshop/index.html", "Workshop", "Build your own kite in the workshop of the Marlow Kite Museum, in two hours, out of paper, bamboo and string, and fly it on the beach on the same afternoon.", `
<h1>Workshop</h1>
<p class="lead">Two hours, paper, bamboo, string, and then the beach.</p>
<p>Saturdays and Sundays at two. Children under eight bring somebody with patience.</p>`)
	add("workshop/first-kite.html", "Your first kite", "How to build a first kite that flies: one sheet of paper, two sticks, a tail of ribbons and a line of forty metres, step by step and without any glue at all.", `
<h1>Your first kite</h1>
<ol>
<li>Cut the paper</li>
<li>Cross the sticks</li>
<li>Tie the tail; it is longer than you think</li>
<li>Go outside</li>
</ol>`)
	add("workshop/painting.html", "Painting", "Painting on silk and paper so that it shows against the sky: which colours stay, which are gone at forty metres, and why almost everybody begins with red.", `
<h1>Painting</h1>
<p>At forty metres only three colours are left. Choose them first.</p>`)
	add("workshop/school.html", "For schools", "A morning for school classes at the Marlow Kite Museum: wind, angles and knots, a kite for each pupil, and what teachers should bring when they come to us.", `
<h1>For schools</h1>
<p>A morning for up to thirty pupils, from March to November. Each takes a kite home.</p>`)
	add("news/index.html", "News", "What is new at the Marlow Kite Museum: the lantern flight in July, new kites on the beams, days on which we are closed, and the wind of the past month here.", `
<h1>News</h1>
<h2><a href="/news/lantern-flight.html">The lantern flight</a></h2>
<p>18 July 2026. Sixty kites, sixty lights, no fire this time.</p>`)
	add("news/lantern-flight.html", "The lantern flight", "On 18 July sixty kites with small lights flew over Marlow beach for an hour: what it looked like from the pier, and when it is going to be done again there.", `
<h1>The lantern flight</h1>
<p>18 July 2026. Sixty kites with sixty lights stood over the beach for an hour.</p>`)
	add("friends.html", "Friends", "Become a friend of the Marlow Kite Museum: what it costs in a year, what you get for it, and which beam, roof tile or tail of a kite your money will pay for.", `
<h1>Friends</h1>
<p>For $40 a year you come in whenever you like, and one tile has your name.</p>`)
	add("contact.html", "Contact", "How to reach the Marlow Kite Museum: telephone, mail and the address of the old sail loft in Beach Road, with the hours at which somebody picks up the phone.", `
<h1>Contact</h1>
<p>The Old Sail Loft, Beach Road, Marlow. Telephone <a href="tel:+6435550177">03 555 0177</a>, mail <a href="mailto:loft@marlow-kites.example">loft@marlow-kites.example</a>.</p>`)
	return pages
}

func marlowPictures() map[string][]byte {
	pics := map[string][]byte{
		"img/opening-day.png": kite(3000, 1688, 90, 0xd43d2a, 0xf9d64a, "dragon").png(), // far too heavy
		"img/tall.jpg":        kite(720, 960, 91, 0x2f7f8a, 0xf9d64a, "diamond").turned(88),
	}
	for i, k := range museumKites {
		pics["kites/img/"+k.file+".jpg"] = kite(960, 720, int64(100+i), k.one, k.two, k.built).jpeg(84)
	}
	return pics
}

// marlowPage marks in the menu which page it is, and gives one page a line more at its foot, as somebody left it
// there.
func marlowPage(file string, b []byte) []byte {
	address := "/" + strings.TrimSuffix(file, "index.html")
	menu := bytes.Index(b, []byte(`id="menu"`))
	entry := fmt.Sprintf(`<a href="%s">`, address)
	marked := fmt.Sprintf(`<a class="current" href="%s" aria-current="page">`, address)
	end := menu + bytes.Index(b[menu:], []byte("</div>"))
	b = slices.Concat(b[:menu], bytes.Replace(b[menu:end], []byte(entry), []byte(marked), 1), b[end:])
	if file != "visit/groups.html" {
		return b
	}
	line := []byte("<p>Groups: ask for Ada before noon</p>\n")
	at := bytes.LastIndex(b, []byte("</div>"))
	return slices.Concat(b[:at], line, b[at:])
}

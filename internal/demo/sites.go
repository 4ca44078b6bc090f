// Package demo holds the demo's world: the studio, its clients' sites as files, and their letters. All of it is
// invented.
package demo

import (
	"bytes"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"strings"
	"time"

	"golang.org/x/text/encoding/charmap"

	"mendry/api"
)

//go:embed all:pages
var pages embed.FS

//go:embed films
var films embed.FS

//go:embed fonts
var fonts embed.FS

// Site is one site of the demo.
type Site struct {
	Name, Dir, Client, Contact, Mail, Zone string
	User, Password                         string
	Kind                                   string // of its host, as package host knows it; empty for WebDAV
	MayClear                               bool
	Cache                                  time.Duration // how long the stand-in's cache keeps pages
	pictures                               func() map[string][]byte
	finish                                 func(file string, b []byte) []byte
	more                                   func() map[string][]byte // pages made by a program
	built                                  bool                     // the host builds pages of Markdown
	fonts                                  []string                 // its own type
}

// Address is where a site's stand-in listens.
type Address struct{ Public, Host string }

// Sites are the demo's sites.
func Sites() []Site {
	return []Site{
		{
			Name: "Larkspur Ferries", Dir: "larkspur", Client: "Larkspur Ferries", Contact: "Maren Quayle", Mail: "maren@larkspur-ferries.example",
			Zone: "Europe/London", User: "larkspur", Password: "slipway-7", Cache: time.Minute, pictures: larkspurPictures, finish: larkspurBytes,
			fonts: []string{"figtree", "bitter"},
		},
		{
			Name: "Osprey Hall Climbing", Dir: "osprey", Client: "Osprey Hall", Contact: "Jory Penhale", Mail: "jory@osprey-hall.example",
			Zone: "Europe/London", User: "osprey", Password: "belay-on-9", MayClear: true, Cache: 10 * time.Minute, pictures: ospreyPictures, finish: minified,
			fonts: []string{"archivo"},
		},
		{
			Name: "Saltgate Observatory", Dir: "saltgate", Client: "Saltgate Trust", Contact: "Dr Ilse Varnham", Mail: "ilse@saltgate.example",
			Zone: "Europe/London", User: "saltgate", Password: "first-light-3", Cache: time.Minute, pictures: saltgatePictures,
			fonts: []string{"cormorant-garamond", "figtree"},
		},
		{
			Name: "Pennyfield Canal Hire", Dir: "pennyfield", Client: "Pennyfield Canal Hire", Contact: "Odette Marsh", Mail: "odette@pennyfield.example",
			Zone: "Europe/London", User: "pennyfield", Password: "windlass-4", MayClear: true, Cache: time.Minute, pictures: pennyfieldPictures, more: boatPages,
			fonts: []string{"fraunces", "cabin"},
		},
		{
			Name: "Fenwick Lantern Theatre", Dir: "fenwick", Client: "Fenwick Players", Contact: "Bram Oswin", Mail: "bram@fenwick-lantern.example",
			Zone: "America/Halifax", User: "fenwick", Password: "limelight-8", Kind: "sftp", MayClear: true, Cache: time.Minute, pictures: fenwickPictures,
			fonts: []string{"playfair-display", "crimson-pro"},
		},
		{
			Name: "Bramble Row Seed Library", Dir: "bramble", Client: "Bramble Row", Contact: "Nan Tolliver", Mail: "nan@bramble-row.example",
			Zone: "Europe/London", User: "bramble", Password: "dibber-2", Kind: "git", MayClear: true, Cache: time.Minute, pictures: bramblePictures, built: true,
			fonts: []string{"alegreya"},
		},
		{
			Name: "Marlow Kite Museum", Dir: "marlow", Client: "Marlow Kite Trust", Contact: "Peta Rowling", Mail: "peta@marlow-kites.example",
			Zone: "Pacific/Auckland", User: "marlow", Password: "longtail-5", Cache: time.Minute, pictures: marlowPictures, more: marlowPages, finish: marlowPage,
			fonts: []string{"roboto-slab", "work-sans"},
		},
		{
			Name: "Quillon Clock Workshop", Dir: "quillon", Client: "Quillon Clock Workshop", Contact: "Otto Brandling", Mail: "otto@quillon-clocks.example",
			Zone: "Europe/London", Kind: "hand", MayClear: true, Cache: 10 * time.Minute, pictures: quillonPictures,
			fonts: []string{"alegreya"},
		},
	}
}

// People are the studio's people with their passwords, for the demo's sign-in page.
func People() []api.DemoPerson {
	return []api.DemoPerson{
		{SignIn: "ines", Password: "harbour lane", Name: "Ines Oakley", Role: "maintainer"},
		{SignIn: "tobias", Password: "harbour lane", Name: "Tobias Fenn", Role: "maintainer"},
		{SignIn: "ruth", Password: "harbour lane", Name: "Ruth Carrow", Role: "lead"},
	}
}

// Write writes the site's files into dir. {{public}} in a page becomes the site's public address.
func (s Site) Write(dir, public string) error {
	if err := s.writePages(dir, public); err != nil {
		return err
	}
	for file, b := range s.pictures() { // they are drawn, which takes a while
		if err := put(dir, file, b); err != nil {
			return err
		}
	}
	return nil
}

// writePages writes the site's files but for its pictures.
func (s Site) writePages(dir, public string) error {
	root := "pages/" + s.Dir
	layout, err := fs.ReadFile(pages, root+"/_layout.html")
	if err != nil {
		return err
	}
	err = fs.WalkDir(pages, root, func(p string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.HasPrefix(path.Base(p), "_") {
			return err
		}
		b, err := fs.ReadFile(pages, p)
		if err != nil {
			return err
		}
		file := strings.TrimPrefix(p, root+"/")
		if strings.HasSuffix(file, ".html") {
			b = s.page(file, layout, b, public)
		}
		return put(dir, file, b)
	})
	if err == nil && s.built {
		err = put(dir, "_layout.html", layout)
	}
	if s.more != nil {
		for file, b := range s.more() {
			err = errors.Join(err, put(dir, file, s.page(file, layout, b, public)))
		}
	}
	if err != nil {
		return fmt.Errorf("write the demo site %s: %w", s.Name, err)
	}
	for _, name := range s.fonts {
		b, err := fonts.ReadFile("fonts/" + name + ".woff2")
		if err != nil {
			return err
		}
		if err := put(dir, "fonts/"+name+".woff2", b); err != nil {
			return err
		}
	}
	return nil
}

// page makes a page of the site as its editors left it.
func (s Site) page(file string, layout, b []byte, public string) []byte {
	b = bytes.ReplaceAll(compose(layout, b), []byte("{{public}}"), []byte(public))
	if s.finish != nil {
		b = s.finish(file, b)
	}
	return b
}

func put(dir, file string, b []byte) error {
	to := filepath.Join(dir, filepath.FromSlash(file))
	if err := os.MkdirAll(filepath.Dir(to), 0o755); err != nil {
		return err
	}
	return os.WriteFile(to, b, 0o644)
}

// compose puts a page into its site's layout: the first line is the title, the second the description, the rest what
// stands between menu and footer.
func compose(layout, page []byte) []byte {
	title, rest, _ := bytes.Cut(page, []byte("\n"))
	description, body, _ := bytes.Cut(rest, []byte("\n"))
	out := bytes.Replace(layout, []byte("{{title}}"), bytes.TrimSpace(title), 1)
	out = bytes.Replace(out, []byte("{{description}}"), bytes.TrimSpace(description), 1)
	return bytes.Replace(out, []byte("{{body}}"), bytes.TrimSpace(body), 1)
}

// larkspurBytes gives some pages the line ends and one page the encoding that years of different editors left.
func larkspurBytes(file string, b []byte) []byte {
	switch file {
	case "timetable.html", "groups.html", "news/2025-fares.html":
		return bytes.ReplaceAll(b, []byte("\n"), []byte("\r\n"))
	case "contact.html":
		b = bytes.Replace(b, []byte(`charset="utf-8"`), []byte(`charset="windows-1252"`), 1)
		if old, err := charmap.Windows1252.NewEncoder().Bytes(b); err == nil {
			return bytes.ReplaceAll(old, []byte("\n"), []byte("\r\n"))
		}
	}
	return b
}

// minified writes a page as its generator does: everything on one line.
func minified(_ string, b []byte) []byte {
	var out []string
	for _, l := range strings.Split(string(b), "\n") {
		if l = strings.TrimSpace(l); l != "" {
			out = append(out, l)
		}
	}
	joined := strings.Join(out, " ")
	return []byte(strings.ReplaceAll(joined, "> <", "><") + "\n")
}

func larkspurPictures() map[string][]byte {
	return map[string][]byte{
		"img/quay.jpg":    sea(1600, 640, 3, false, func(c *canvas) { c.ferry(rgb(0x6d7f8c), rgb(0xdfe3df), 0.32, 0.8, 0.3) }).jpeg(86),
		"img/evening.jpg": sea(1600, 640, 8, true, func(c *canvas) { c.ferry(rgb(0x1f3c56), rgb(0xf0ece2), 0.1, 0.82, 0.24) }).jpeg(84),
		"img/heron.jpg":   island(1200, 675, 11, false).jpeg(84),
		"img/skerry.jpg":  island(1200, 675, 14, false).jpeg(84),
		"img/lantern.jpg": island(1200, 675, 17, true).jpeg(84),
		"img/deck.jpg":    deck(1200, 675, 19).jpeg(84),
	}
}

// NewBoat is the picture that comes with the winter letter.
func NewBoat() []byte {
	return sea(1600, 640, 21, false, func(c *canvas) { c.ferry(rgb(0xf4f2ec), rgb(0x24547a), 0.28, 0.82, 0.44) }).jpeg(88)
}

func ospreyPictures() map[string][]byte {
	return map[string][]byte{
		"media/hall.jpg":    wall(1600, 720, 5).jpeg(82),
		"media/kids.jpg":    wall(1000, 667, 9).jpeg(82),
		"media/cave.jpg":    wall(1000, 667, 12).jpeg(82),
		"media/alwyn.jpg":   portrait(640, alwyn).jpeg(86),
		"media/bettina.jpg": portrait(640, bettina).jpeg(86),
		"media/ada.jpg":     portrait(320, ada).jpeg(86),
		"media/corin.jpg":   portrait(640, corin).jpeg(86),
		"media/prices.pdf":  hallPrices(),
		// Left behind by earlier years; nothing names them.
		"media/open-day-2025.jpg": wall(1000, 667, 17).jpeg(82),
		"media/prices-2025.pdf":   oldPrices(),
	}
}

// NewCoach and CoachPhoto are the pictures that come with the coaches' letter.
func NewCoach() []byte { return portrait(900, tove).jpeg(88) }

// CoachPhoto is the new photograph of a coach.
func CoachPhoto() []byte {
	now := alwyn
	now.seed, now.shirt, now.back, now.glasses = 7, 0x5b8c3a, 0x93806b, true
	return portrait(900, now).jpeg(88)
}

// OpenEvening is the picture that comes with the letter about the open evening: a square, where a banner belongs.
func OpenEvening() []byte { return night(2200, 2200, 15, true).jpeg(90) }

func saltgatePictures() map[string][]byte {
	return map[string][]byte{
		"files/roof.mp4":    film("roof-opens.mp4"),
		"files/roof.vtt":    film("roof-opens.vtt"),
		"files/hero.jpg":    night(1800, 800, 4, true).jpeg(82),
		"files/share.jpg":   night(1200, 628, 4, true).jpeg(82),
		"files/saturn.png":  planet(900, 600, 6, 0xd8b27a, 0xe8d3a8).png(),
		"files/jupiter.jpg": planet(900, 600, 7, 0xc98f6a, 0).jpeg(86),
		"files/dome.jpg":    night(900, 600, 10, true).jpeg(84),
		"files/sky.jpg":     night(1600, 400, 19, false).jpeg(80), // behind the footer, by the style sheet
	}
}

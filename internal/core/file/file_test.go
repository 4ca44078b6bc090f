package file

import (
	"archive/zip"
	"bytes"
	"encoding/binary"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// Files of the programs that write them, as gabriel-vasile/mimetype ships them for its own tests.
func TestLookAtFilesOfOtherPrograms(t *testing.T) {
	out, err := exec.Command("go", "list", "-m", "-f", "{{.Dir}}", "github.com/gabriel-vasile/mimetype").Output()
	if err != nil {
		t.Fatal(err)
	}
	dir := filepath.Join(strings.TrimSpace(string(out)), "testdata")
	for name, want := range map[string]string{
		"docx.docx": "Word", "xlsx.xlsx": "Excel", "doc.doc": "Word", "xls.xls": "Excel", "ppt.ppt": "PowerPoint",
		"pptx.pptx": "", "jar_in_zip.zip": "", // their first bytes only
		"jar.jar": "", "app-metadata.apk": "", "zipflinger.apk": "", "msi.msi": "", "tar.tar": "", "gif.gif": "", "utf8.txt": "",
	} {
		b, err := os.ReadFile(filepath.Join(dir, name))
		if err != nil {
			t.Fatal(err)
		}
		i, err := Look(b)
		if i.Kind != want || (err == nil) != (want != "") {
			t.Errorf("%s: %+v, %v; want %q", name, i, err, want)
		}
	}
}

func film(boxes ...string) (b []byte) {
	for _, box := range boxes {
		b = binary.BigEndian.AppendUint32(b, uint32(len(box)+4))
		b = append(b, box...)
	}
	return b
}

func wav(said, is int) []byte {
	b := append([]byte("RIFF\x00\x00\x00\x00WAVEfmt \x10\x00\x00\x00"), make([]byte, is)...)
	binary.LittleEndian.PutUint32(b[4:], uint32(said))
	return b
}

func zipped(names ...string) []byte {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for _, n := range names {
		w, _ := z.Create(n)
		_, _ = w.Write([]byte(strings.Repeat(n, 40)))
	}
	_ = z.Close()
	return b.Bytes()
}

const pdf = "%PDF-1.4\n1 0 obj<</Type/Catalog>>endobj\ntrailer<</Root 1 0 R>>\n"

func TestLook(t *testing.T) {
	for name, tt := range map[string]struct {
		file string
		kind string // empty: refused
		say  string
	}{
		"a PDF":                        {pdf + "%%EOF\n", "PDF", ""},
		"a PDF with a password":        {pdf + "trailer<</Encrypt 5 0 R>>\n%%EOF\n", "PDF", ""},
		"a PDF that breaks off":        {pdf, "", "breaks off: its end mark"},
		"a ZIP":                        {string(zipped("a.txt")), "ZIP", ""},
		"a ZIP that breaks off":        {string(zipped("a.txt")[:60]), "", "list of contents"},
		"a film":                       {string(film("ftypmp42\x00\x00\x00\x00mp42isom", "moovx", "mdatxxxx")), "MP4", ""},
		"a film without its directory": {string(film("ftypmp42\x00\x00\x00\x00mp42isom", "mdatxxxx")), "", "how it is played"},
		"a film that breaks off":       {string(film("ftypmp42\x00\x00\x00\x00mp42isom", "moovx", "mdatxxxx")[:40]), "", "cut"},
		"a sound":                      {string(wav(112, 100)), "WAV", ""},
		"a sound that breaks off":      {string(wav(5000, 100)), "", "longer"},
		"captions":                     {"WEBVTT\n\n00:01.000 --> 00:04.000\nWelcome.\n", "captions", ""},
		"a calendar":                   {"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nEND:VCALENDAR\r\n", "calendar", ""},
		"nothing":                      {"", "", "empty"},
		"a program":                    {"MZ\x90\x00\x03\x00\x00\x00" + strings.Repeat("\x00", 200), "", "neither a picture"},
		"another program":              {"\x7fELF\x02\x01\x01" + strings.Repeat("\x00", 200), "", "neither a picture"},
		"a script":                     {"#!/bin/sh\nrm -rf /\n", "", "neither a picture"},
		"a page":                       {"<!doctype html><script>alert(1)</script>", "", "neither a picture"},
		"a program of the site":        {"<?php system($_GET['x']);", "", "neither a picture"},
		"a drawing":                    {`<svg xmlns="http://www.w3.org/2000/svg"/>`, "", "neither a picture"},
		"a page that says it is a PDF": {"<html>%PDF-1.4 %%EOF", "", "its beginning"},
	} {
		i, err := Look([]byte(tt.file))
		if i.Kind != tt.kind || (err == nil) != (tt.kind != "") ||
			err != nil && !strings.Contains(err.Error(), tt.say) {
			t.Errorf("%s: %+v, %v", name, i, err)
		}
		if i.Locked != (name == "a PDF with a password") {
			t.Errorf("%s: locked %v", name, i.Locked)
		}
	}
	if _, err := Look(make([]byte, MaxBytes+1)); err == nil {
		t.Error("a file that is too heavy is taken")
	}
}

func FuzzLook(f *testing.F) {
	f.Add([]byte(pdf))
	f.Add(film("ftypmp42\x00\x00\x00\x00mp42isom", "moovx"))
	f.Add(wav(116, 100))
	f.Add(zipped("word/document.xml"))
	f.Fuzz(func(t *testing.T, b []byte) {
		if i, err := Look(b); err == nil && (i.Kind == "" || i.Size != int64(len(b))) {
			t.Errorf("%+v", i)
		}
	})
}

// How pages tell of files: common practice, no source.
func TestWordsOfAFile(t *testing.T) {
	list := Info{Media: "application/pdf", Kind: "PDF", Ext: ".pdf", Size: 96_400}
	film := Info{Media: "video/mp4", Kind: "MP4", Ext: ".mp4", Size: 12_340_000}
	for _, tt := range []struct {
		words string
		of    Info
		right bool
		want  string
	}{
		{"Price list (PDF, 84 kB)", list, false, "Price list (PDF, 96 kB)"},
		{"Price list (pdf, 84kB)", list, false, "Price list (pdf, 96kB)"},
		{"Price list – PDF · 94 KB", list, true, "Price list – PDF · 96 KB"},
		{"Price list (PDF, 96 kB)", list, true, "Price list (PDF, 96 kB)"},
		{"Price list", list, true, "Price list"},
		{"Preisliste (PDF, 1,2 MB)", film, false, "Preisliste (MP4, 12,3 MB)"},
		{"Tarifs (PDF, 84 Ko)", list, false, "Tarifs (PDF, 96 Ko)"},
		{"Prices of 2026, from 20 kB to 30 kB (PDF)", list, false, "Prices of 2026, from 96 kB to 30 kB (PDF)"},
		{"The wording of our words (DOCX, 84 kB)", list, false, "The wording of our words (PDF, 96 kB)"},
	} {
		if got := SaidOf(tt.words).Right(tt.of); got != tt.right {
			t.Errorf("%q is right of %s: %v", tt.words, tt.of.Words(), got)
		}
		if got := Resaid(tt.words, tt.of); got != tt.want {
			t.Errorf("%q becomes %q, want %q", tt.words, got, tt.want)
		}
	}
}

func TestIsAddress(t *testing.T) {
	for address, want := range map[string]string{
		"/files/prices.pdf": "PDF", "prices.PDF?v=2#page=3": "PDF", "talk.mp3": "MP3", "/fares.html": "", "/a.jpg": "", "/pdf/": "",
	} {
		if got, is := IsAddress(address); got != want || is != (want != "") {
			t.Errorf("%s: %q", address, got)
		}
	}
}

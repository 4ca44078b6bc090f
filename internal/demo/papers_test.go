package demo

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"mendry/internal/core/file"
)

// What is printed is what it says, and the page that leads to it tells its weight rightly.
func TestPapers(t *testing.T) {
	b := hallPrices()
	i, err := file.Look(b)
	if err != nil || i.Kind != "PDF" {
		t.Fatalf("%+v, %v", i, err)
	}
	said, err := pages.ReadFile("pages/osprey/prices/index.html")
	if err != nil {
		t.Fatal(err)
	}
	if s := file.SaidOf(string(said[strings.Index(string(said), "to print"):])); !s.Right(i) || s.Weight == "" {
		t.Errorf("the page says %+v, it is %s", s, i.Words())
	}
	if string(hallPrices()) != string(b) {
		t.Error("the same paper has other bytes each time")
	}
	tool, err := exec.LookPath("pdftotext") // of poppler, where it is there
	if err != nil {
		return
	}
	name := filepath.Join(t.TempDir(), "a.pdf")
	if err := os.WriteFile(name, b, 0o600); err != nil {
		t.Fatal(err)
	}
	out, err := exec.Command(tool, name, "-").Output()
	if err != nil || !strings.Contains(string(out), "£11.50") {
		t.Errorf("%s, %v", out, err)
	}
}

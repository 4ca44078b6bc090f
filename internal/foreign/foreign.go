// Package foreign has pages at hand that nobody here wrote, for tests: templates out of npm packages that come with
// the browser tests' dependencies, and whatever pages MENDRY_CORPUS names the folder of.
package foreign

import (
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"testing"
)

// sites are the packages that hold a site of one or more pages, each with words of its own.
var sites = []string{
	"agency", "business-casual", "clean-blog", "creative", "freelancer", "grayscale", "landing-page", "modern-business", "new-age", "resume",
	"stylish-portfolio",
}

// templates are the pages on which sets and sections are tried, by eight makers.
var templates = []string{
	"startbootstrap-agency/dist/index.html",
	"startbootstrap-business-casual/dist/products.html",
	"startbootstrap-clean-blog/dist/index.html",
	"startbootstrap-creative/dist/index.html",
	"startbootstrap-freelancer/dist/index.html",
	"startbootstrap-grayscale/dist/index.html",
	"startbootstrap-landing-page/dist/index.html",
	"startbootstrap-modern-business/dist/about.html",
	"startbootstrap-modern-business/dist/blog-home.html",
	"startbootstrap-modern-business/dist/blog-post.html",
	"startbootstrap-modern-business/dist/faq.html",
	"startbootstrap-modern-business/dist/index.html",
	"startbootstrap-modern-business/dist/portfolio-item.html",
	"startbootstrap-modern-business/dist/portfolio-overview.html",
	"startbootstrap-modern-business/dist/pricing.html",
	"startbootstrap-new-age/dist/index.html",
	"startbootstrap-resume/dist/index.html",
	"startbootstrap-stylish-portfolio/dist/index.html",
	"startbootstrap-shop-homepage/dist/index.html",
	"startbootstrap-shop-item/dist/index.html",
	"startbootstrap-small-business/dist/index.html",
	"startbootstrap-heroic-features/dist/index.html",
	"startbootstrap-blog-home/dist/index.html",
	"startbootstrap-business-frontpage/dist/index.html",
	"startbootstrap-full-width-pics/dist/index.html",
	"startbootstrap-4-col-portfolio/index.html",
	"startbootstrap-portfolio-item/index.html",
	"startbootstrap-thumbnail-gallery/index.html",
	"material-kit/examples/landing-page.html",
	"material-kit/examples/profile-page.html",
	"paper-kit-2/examples/landing.html",
	"paper-kit-2/examples/profile.html",
	"shards-ui/dist/agency-landing.html",
	"shards-ui/dist/app-promo.html",
	"bulma-templates/templates/product.html",
	"bulma-templates/templates/blog.html",
	"bulma-templates/templates/timeline.html",
	"bulma-templates/templates/photo-stream.html",
	"bulma-templates/templates/hero.html",
	"bulma-templates/templates/forum.html",
	"bulma-templates/templates/landing.html",
	"owl.carousel/docs/demos/basic.html",
	"owl.carousel/docs/demos/lazyLoad.html",
	"slick-carousel/index.html",
	"uikit/tests/accordion.html",
	"uikit/tests/switcher.html",
	"uikit/tests/slider.html",
	"uikit/tests/slideshow.html",
	"uikit/tests/description-list.html",
	"picnic/docs/index.html",
	"spectre.css/docs/components/tabs.html",
	"spectre.css/docs/components/accordions.html",
	"spectre.css/docs/experimentals/carousels.html",
	"milligram/example.html",
	"concise.css/test.html",
}

// modules is the folder of the packages.
func modules() string {
	_, here, _, _ := runtime.Caller(0)
	return filepath.Join(filepath.Dir(here), "..", "..", "e2e", "node_modules")
}

// Read reads a file of a page.
func Read(t testing.TB, file string) []byte {
	t.Helper()
	b, err := os.ReadFile(file)
	if err != nil {
		t.Fatalf("%v\nthe pages to try are not there: run make test, or npm ci in e2e", err)
	}
	return b
}

// Templates lists the files of the templates by their names: the package and the file in it.
func Templates(t testing.TB) (names []string, files map[string]string) {
	t.Helper()
	files = map[string]string{}
	for _, name := range templates {
		files[name] = filepath.Join(modules(), filepath.FromSlash(name))
	}
	return templates, files
}

// Pages lists the files of pages by what they are from: those of a few sites, or with MENDRY_CORPUS=DIR all below DIR,
// a folder a source, fetched first by scripts/corpus.sh where DIR is not there yet.
func Pages(t testing.TB) map[string][]string {
	t.Helper()
	sources := map[string][]string{}
	dir := os.Getenv("MENDRY_CORPUS")
	if dir == "" {
		for _, site := range sites {
			name := "startbootstrap-" + site
			found, err := filepath.Glob(filepath.Join(modules(), name, "dist", "*.html"))
			if err != nil || len(found) == 0 {
				t.Fatal("the pages to try are not there: run make test, or npm ci in e2e")
			}
			sources[name] = found
		}
		return sources
	}
	if _, err := os.Stat(dir); err != nil {
		script := filepath.Join(modules(), "..", "..", "scripts", "corpus.sh")
		if out, err := exec.Command(script, dir).CombinedOutput(); err != nil {
			t.Fatalf("%s\n%v", out, err)
		}
	}
	err := filepath.Walk(dir, func(f string, info os.FileInfo, err error) error {
		if err != nil || info.IsDir() {
			return err
		}
		rel, err := filepath.Rel(dir, f)
		name, _, _ := strings.Cut(filepath.ToSlash(rel), "/")
		sources[name] = append(sources[name], f)
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	return sources
}

// Sites lists the pages of sites of several folders, by their site: its folder, and the files in it as they are
// addressed.
func Sites(t testing.TB) map[string][]string {
	t.Helper()
	all := map[string][]string{}
	for _, name := range []string{
		"spectre.css/docs", "owl.carousel/docs", "startbootstrap-modern-business/dist", "startbootstrap-business-casual/dist",
		"startbootstrap-clean-blog/dist", "startbootstrap-full-width-pics/dist", "uikit/tests",
	} {
		dir := filepath.Join(modules(), filepath.FromSlash(name))
		err := filepath.WalkDir(dir, func(f string, e os.DirEntry, err error) error {
			if e != nil && e.IsDir() && (e.Name() == "node_modules" || e.Name() == "vendor") {
				return filepath.SkipDir
			}
			if filepath.Ext(f) == ".html" {
				all[dir] = append(all[dir], f)
			}
			return nil
		})
		if err != nil || len(all[dir]) == 0 {
			t.Fatal("the sites to try are not there: run make test, or npm ci in e2e")
		}
	}
	return all
}

// Files lists the files of Pages, in order.
func Files(t testing.TB) (all []string) {
	t.Helper()
	sources := Pages(t)
	for _, name := range slices.Sorted(maps.Keys(sources)) {
		all = append(all, sources[name]...)
	}
	return all
}

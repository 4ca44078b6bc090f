package picture

import "strings"

// Standing is how a picture file stands on a site: who shows it, and how.
type Standing struct {
	Info
	Uses    int // places that name it
	Silent  int // of them without an alternative text where one is needed
	ShownAt int // CSS pixels, at most; 0 where nobody saw it
	Twice   int // other files with the same bytes
}

// Finding is something to be said of a picture file.
type Finding string

// What may be said of a picture file.
const (
	Unused   Finding = "unused"    // nothing that was read names it
	TooHeavy Finding = "too heavy" // for what is shown of it
	TooSmall Finding = "too small" // for what is shown of it
	Silent   Finding = "without text"
	Twice    Finding = "twice" // another file has the same bytes
)

// What a picture may weigh whose place nobody has seen, in bytes (common practice, no source: half a megabyte takes
// some seconds on a phone).
const heavyAnywhere = 500_000

// Says tells what there is to say of a picture file.
func (s Standing) Says() (all []Finding) {
	if s.Uses == 0 {
		all = append(all, Unused)
	}
	if s.Media != "" && !strings.HasPrefix(s.Media, "image/") {
		return all // a file to download
	}
	may := heavyAnywhere
	if s.ShownAt > 0 && s.Width > 0 {
		may = MayWeigh(s.ShownAt, s.Width, s.Height)
	}
	if s.Size > may {
		all = append(all, TooHeavy)
	}
	if s.ShownAt > 0 && s.Width > 0 && s.Media != SVG && float64(s.Width) < 0.98*float64(s.ShownAt) {
		all = append(all, TooSmall)
	}
	if s.Silent > 0 {
		all = append(all, Silent)
	}
	if s.Twice > 0 {
		all = append(all, Twice)
	}
	return all
}

// What a picture may weigh for each point that a sharp screen shows of it, and below which weight nobody waits for it
// (common practice, no source).
const (
	bytesAPoint = 0.35
	lightEnough = 120_000
)

// MayWeigh is what a picture of a shape may weigh that is shown so many CSS pixels wide, in bytes.
func MayWeigh(shown, width, height int) int {
	points := 4 * float64(shown) * float64(shown) * float64(height) / float64(width)
	return max(int(bytesAPoint*points), lightEnough)
}

package page

// PictureAddresses are the attributes in which a picture's address stands: HTML's own, and those from which scripts take it
// when it comes into view (common practice, no source). Where a picture has one of the others, it is that which is shown.
var PictureAddresses = []string{"src", "data-src", "data-lazy-src", "data-original", "data-lazy"}

// Srcsets are the attributes in which several files of a picture are offered.
var Srcsets = []string{"srcset", "data-srcset", "data-lazy-srcset"}

// PictureAddress is where the file of a picture is, as its page names it.
func PictureAddress(part *Part) string {
	for _, name := range PictureAddresses[1:] {
		if v := part.Attributes.Get(name); v != "" {
			return v
		}
	}
	return part.Attributes.Get("src")
}

package page

// landmarks are elements of which a page has one for all of it (HTML, 4.3).
var landmarks = words("header footer nav aside")

// Twin is the part of another page of the site that stands there for a part, though it is not the same: with its
// identifier, or the only one with its tag and classes, or the only landmark of its tag. It is nil where none surely
// does.
func Twin(part *Part, other *Page) *Part {
	tag, id, class := part.Node.Tag(), part.Attributes.Get("id"), part.Attributes.Get("class")
	var byClass, byTag []*Part
	for _, q := range other.All {
		if q.Kind != part.Kind || q.Run != nil || q.Node.Tag() != tag || inside(q.Node, "main", "article") != inside(part.Node, "main", "article") {
			continue
		}
		if id != "" && q.Attributes.Get("id") == id {
			return q
		}
		if class != "" && q.Attributes.Get("class") == class {
			byClass = append(byClass, q)
		}
		byTag = append(byTag, q)
	}
	switch {
	case len(byClass) == 1:
		return byClass[0]
	case len(byClass) == 0 && len(byTag) == 1 && landmarks[tag]:
		return byTag[0]
	}
	return nil
}

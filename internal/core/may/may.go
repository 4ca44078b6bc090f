// Package may says who may do what.
package may

// Role is what somebody does in the studio.
type Role string

// The roles.
const (
	Lead       Role = "lead"       // manages sites and people
	Maintainer Role = "maintainer" // changes sites
)

// Markup reports whether somebody may write the markup of a page by hand: what is written so is not cleaned.
func Markup(r Role) bool { return r == Lead }

package record

// Event is the body of an entry: who did what, and to what.
type Event struct {
	Who     string        `json:"who"`
	What    string        `json:"what"`
	Say     string        `json:"say"`
	Changes []EventChange `json:"changes,omitempty"`
	Pages   []EventPage   `json:"pages,omitempty"`
	Checks  []string      `json:"checks,omitempty"`
	Note    string        `json:"note,omitempty"`
}

// EventChange is a change as it was when the entry was written.
type EventChange struct {
	Change  int64  `json:"change"`
	Wish    string `json:"wish,omitempty"`
	Address string `json:"address"`
	Part    string `json:"part"`
	Say     string `json:"say"`
	Before  string `json:"before"`
	After   string `json:"after"`
	By      string `json:"by,omitempty"`
	At      string `json:"at,omitempty"`
	Verdict string `json:"verdict,omitempty"`
}

// EventPage is a page by the SHA-256 of its bytes.
type EventPage struct {
	Address string `json:"address"`
	Before  string `json:"before_sha256,omitempty"`
	After   string `json:"after_sha256,omitempty"`
}

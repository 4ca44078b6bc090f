package request

import "regexp"

// away are the words by which letters ask that something goes: English, German, French (from memory, no source).
var away = regexp.MustCompile(`(?i)\b(?:remov\w*|delet\w*|get rid of|no longer|any ?more|has left|(?:take|taken|comes?)\b.{0,40}\b(?:out|off|down|away)|entfern\w*|lösch\w*|streich\w*|nicht mehr|(?:nehm\w*|nimm)\b.{0,40}\b(?:raus|heraus|weg)|enlev\w*|supprim\w*|retir\w*|ne\b.{0,30}\bplus)\b`)

// Fulfils reports whether a change that was made for a wish may be what it asked for: what is put in, putIn, is not,
// where something was to go.
func Fulfils(wish string, putIn bool) bool { return !putIn || !away.MatchString(wish) }

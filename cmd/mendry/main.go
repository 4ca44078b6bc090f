// Command mendry is the server and the command line of Mendry. It only wires; the work is done in internal.
package main

import (
	"errors"
	"fmt"
	"io"
	"os"
)

// Exit codes of the command line.
const (
	done     = 0
	conflict = 1 // a conflict or a finding
	refused  = 2
)

// failure ends the program with a code and a reason on standard error.
type failure struct {
	code   int
	reason string
	quiet  bool // the reason, if there is one, is for programs: it is printed as it is
}

func (f *failure) Error() string { return f.reason }

func fail(code int, format string, args ...any) error {
	return &failure{code: code, reason: fmt.Sprintf(format, args...)}
}

type command struct {
	name, args, does string
	run              func(args []string, in io.Reader, out io.Writer) error
}

var commands = []command{
	{"demo", "[--fresh]", "start everything on loopback with the demo's data", runDemo},
	{"serve", "[flags]", "start Mendry on a database of your own", runServe},
	{"person add", "--sign-in NAME --name FULL", "take in somebody of the studio", personAdd},
	{"standin", "--dir DIR", "start a stand-in site host on a folder", runStandin},
	{"page parts", "FILE", "the parts of a page as JSON", pageParts},
	{"page apply", "FILE CHANGES.json [--undo UNDO.json]", "the page with the changes made", pageApply},
	{"page rebase", "OLD CHANGES.json NEW", "changes to one version of a page made on another", pageRebase},
	{"page compare", "OLD NEW", "what two versions differ in, part by part, as JSON", pageCompare},
	{"page merge", "BASE MINE THEIRS", "what two sides made of a page, brought together", pageMerge},
	{"page check", "FILE [--site DIR] [--on DATE]", "what the rules of the trade find, as JSON", pageCheck},
	{"text clean", "[--plain]", "pasted markup without hidden rubbish; standard input to standard output", textClean},
	{"picture look", "FILE", "what a picture is, as JSON", pictureLook},
	{"picture work", "FILE WORK.json", "the picture turned, cut and sized, on standard output", pictureWork},
	{"record verify", "FILE", "tell whether an exported record is whole", recordVerify},
}

func main() {
	err := run(os.Args[1:], os.Stdin, os.Stdout)
	if err == nil {
		return
	}
	var f *failure
	if !errors.As(err, &f) {
		f = &failure{code: refused, reason: err.Error()}
	}
	switch {
	case !f.quiet:
		fmt.Fprintln(os.Stderr, "mendry: "+f.reason)
	case f.reason != "":
		fmt.Fprintln(os.Stderr, f.reason)
	}
	os.Exit(f.code)
}

func run(args []string, in io.Reader, out io.Writer) error {
	if len(args) == 0 || args[0] == "help" || args[0] == "--help" || args[0] == "-h" {
		return help(out)
	}
	for _, c := range commands {
		words := 1
		name := args[0]
		if len(args) > 1 && c.name == args[0]+" "+args[1] {
			words, name = 2, c.name
		}
		if c.name == name {
			return c.run(args[words:], in, out)
		}
	}
	return fail(refused, "there is no command %q; see mendry help", args[0])
}

func help(out io.Writer) error {
	fmt.Fprintln(out, "mendry turns clients' letters into changes on the sites that an agency keeps.")
	fmt.Fprintln(out)
	for _, c := range commands {
		fmt.Fprintf(out, "  mendry %-50s %s\n", c.name+" "+c.args, c.does)
	}
	fmt.Fprintln(out)
	fmt.Fprintln(out, "Settings of serve and demo: flags, or the environment in their place")
	fmt.Fprintln(out)
	for _, s := range settings {
		fmt.Fprintf(out, "  --%-16s %-24s %s (default %q)\n", s.flag, s.env, s.does, s.preset)
	}
	fmt.Fprintln(out)
	fmt.Fprintln(out, "Exit codes: 0 done, 1 conflict or finding, 2 refused.")
	return nil
}

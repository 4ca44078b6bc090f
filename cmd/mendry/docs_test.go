package main

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// Every example in docs/command-line.md is run as it stands there, by a shell.
func TestTheExamplesOfTheDocument(t *testing.T) {
	b, err := os.ReadFile("../../docs/command-line.md")
	if err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	self, err := filepath.Abs(os.Args[0])
	if err != nil {
		t.Fatal(err)
	}
	script := fmt.Sprintf("#!/bin/sh\n%s=1 exec %s \"$@\"\n", asMendry, self)
	if err := os.WriteFile(filepath.Join(dir, "mendry"), []byte(script), 0o700); err != nil {
		t.Fatal(err)
	}
	ran := 0
	for _, block := range strings.Split(string(b), "```console\n")[1:] {
		block, _, _ = strings.Cut(block, "\n```")
		for _, example := range strings.Split(block, "$ ")[1:] {
			command, want, _ := strings.Cut(example, "\n")
			if strings.HasPrefix(command, "echo") && !strings.Contains(command, "mendry") {
				command = "printf '%s\\n' " + strings.TrimPrefix(command, "echo ") // dash's echo reads escapes
			}
			c := exec.Command("sh", "-c", command)
			c.Dir, c.Env = dir, append(os.Environ(), "PATH="+dir+":"+os.Getenv("PATH"))
			out, err := c.CombinedOutput()
			got := strings.TrimRight(string(out), "\n")
			if exit, ok := err.(*exec.ExitError); ok && exit.ExitCode() == conflict && strings.HasPrefix(command, "mendry page merge") {
				got += "\nexit 1"
			}
			if want = strings.TrimRight(want, "\n"); got != want {
				t.Errorf("%s\n got %s\nwant %s", command, got, want)
			}
			ran++
		}
	}
	if ran < 15 {
		t.Errorf("only %d examples were run", ran)
	}
}

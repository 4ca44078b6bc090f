package hosttest

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// gitOverSSH is a bare repository behind OpenSSH, whose pages git's own hook builds into the folder at each push.
func gitOverSSH(t testing.TB, dir string) *Server {
	t.Helper()
	if _, err := exec.LookPath("git"); err != nil {
		t.Skip("git is not installed (make system)")
	}
	repo := filepath.Join(dir, ".site.git")
	s := openSSH(t, dir, "PermitRootLogin yes\n")
	s.Kind, s.URL, s.User = "git", fmt.Sprintf("ssh://127.0.0.1:%d%s#main", s.port, repo), "root"
	git := func(in string, env []string, args ...string) string {
		c := exec.Command("git", append([]string{"-C", repo, "-c", "safe.directory=*"}, args...)...)
		c.Stdin = strings.NewReader(in)
		c.Env = append(append(os.Environ(), "GIT_AUTHOR_NAME=Somebody", "GIT_AUTHOR_EMAIL=s@else.example", "GIT_COMMITTER_NAME=Somebody", "GIT_COMMITTER_EMAIL=s@else.example"), env...)
		var out, said bytes.Buffer
		c.Stdout, c.Stderr = &out, &said
		if err := c.Run(); err != nil {
			t.Fatalf("git %v: %v %s", args, err, said.String())
		}
		return strings.TrimSuffix(out.String(), "\n")
	}
	if out, err := exec.Command("git", "init", "-q", "--bare", "-b", "main", repo).CombinedOutput(); err != nil {
		t.Fatalf("git init: %v %s", err, out)
	}
	build := "#!/bin/sh\nGIT_DIR=. GIT_WORK_TREE='" + dir + "' git checkout -q -f main\n"
	if err := os.WriteFile(repo+"/hooks/post-receive", []byte(build), 0o755); err != nil {
		t.Fatal(err)
	}
	s.Put = func(file, content string) { // somebody else commits
		index := []string{"GIT_INDEX_FILE=" + filepath.Join(repo, "others-index")}
		for moved := true; moved; { // until nobody was faster
			var parents []string
			tip := strings.Repeat("0", 40)
			if b, err := exec.Command("git", "-C", repo, "rev-parse", "-q", "--verify", "main").Output(); err == nil {
				tip = strings.TrimSpace(string(b))
				parents = []string{"-p", tip}
				git("", index, "read-tree", tip)
			}
			blob := git(content, nil, "hash-object", "-w", "--stdin")
			git("100644 "+blob+"\t"+file+"\x00", index, "update-index", "-z", "--index-info")
			tree := git("", index, "write-tree")
			commit := git("", nil, append([]string{"commit-tree", tree, "-m", "Somebody else’s"}, parents...)...)
			moved = exec.Command("git", "-C", repo, "update-ref", "refs/heads/main", commit, tip).Run() != nil
		}
		for try := 0; ; try++ { // a push may be being built just then
			c := exec.Command("git", "checkout", "-q", "-f", "main")
			c.Env = append(os.Environ(), "GIT_DIR="+repo, "GIT_WORK_TREE="+dir)
			out, err := c.CombinedOutput()
			if err == nil {
				return
			}
			if try == 100 {
				t.Fatalf("git checkout: %v %s", err, out)
			}
			time.Sleep(20 * time.Millisecond)
		}
	}
	s.File = func(file string) string {
		c := exec.Command("git", "-C", repo, "cat-file", "blob", "main:"+file)
		b, err := c.Output()
		if err != nil {
			return "(none)"
		}
		return string(b)
	}
	s.Log = func() string { return git("", nil, "log", "--format=%an: %B", "main") }
	return s
}

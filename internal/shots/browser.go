package shots

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// browser is the process of one, and those that it starts.
type browser struct {
	dir   string // where it keeps its own; told to each of its processes
	apart bool   // in a network of its own
	cmd   *exec.Cmd
}

// as makes the browser a stranger: a user of no rights, in a group of processes that ends as one, the first to go
// where memory runs out.
func (b *browser) as(cmd *exec.Cmd) {
	b.cmd = cmd
	if cmd.SysProcAttr == nil {
		cmd.SysProcAttr = &syscall.SysProcAttr{}
	}
	cmd.SysProcAttr.Setpgid = true
	cmd.SysProcAttr.Pdeathsig = syscall.SIGKILL
	if b.apart {
		cmd.SysProcAttr.Cloneflags |= syscall.CLONE_NEWNET
	}
	if os.Geteuid() == 0 && os.Chown(b.dir, nobody, nobody) == nil {
		cmd.SysProcAttr.Credential = &syscall.Credential{Uid: nobody, Gid: nobody}
	}
}

// politeness is how far the browser gives way to everything else on the machine (nice(1)): a third of what another process
// gets, where the machine is busy. Words that are kept go first; but whoever chooses a section, or looks through a proof,
// waits for its pictures.
const politeness = 5

func (b *browser) giveWay() {
	if b.cmd != nil && b.cmd.Process != nil {
		_ = syscall.Setpriority(syscall.PRIO_PGRP, b.cmd.Process.Pid, politeness)
	}
}

func (b *browser) kill() {
	if b.cmd != nil && b.cmd.Process != nil {
		_ = syscall.Kill(-b.cmd.Process.Pid, syscall.SIGKILL)
	}
}

// patience is how long the end of a browser is waited for. A killed process with much memory goes on dying for a
// while, and until then its memory is not free for the next one.
const patience = 20 * time.Second

// end ends all processes of the browser, those that left its group too, and waits until they are gone.
func (b *browser) end() {
	b.kill()
	for until := time.Now().Add(patience); time.Now().Before(until); time.Sleep(20 * time.Millisecond) {
		left := processes(func(p process) bool { return bytes.Contains(p.line(), []byte(b.dir)) })
		if len(left) == 0 {
			return
		}
		for _, p := range left {
			_ = syscall.Kill(p.id, syscall.SIGKILL)
		}
	}
}

// watch ends the browser where it takes too much memory.
func (b *browser) watch(done <-chan struct{}) {
	tick := time.NewTicker(200 * time.Millisecond)
	defer tick.Stop()
	for {
		select {
		case <-done:
			return
		case <-tick.C:
			if b.cmd != nil && b.cmd.Process != nil && taken(b.cmd.Process.Pid) > mostData {
				b.kill()
				return
			}
		}
	}
}

// taken is how much memory the processes of a group hold for themselves, in bytes: resident less shared pages
// (proc(5), statm).
func taken(group int) (sum int64) {
	for _, p := range processes(func(p process) bool { return p.group == group }) {
		var size, resident, shared int64
		statm, err := os.ReadFile(p.file("statm"))
		if err == nil {
			_, _ = fmt.Sscan(string(statm), &size, &resident, &shared)
			sum += (resident - shared) * int64(os.Getpagesize())
		}
	}
	return sum
}

// process is one that runs, as Linux tells under /proc.
type process struct{ id, group int }

func (p process) file(name string) string { return filepath.Join("/proc", strconv.Itoa(p.id), name) }

// line is what it was started with; empty where it has ended and nobody asked how.
func (p process) line() []byte {
	line, _ := os.ReadFile(p.file("cmdline"))
	return line
}

// processes are those of the machine that are meant (proc(5), stat: field 5 is the group).
func processes(meant func(process) bool) (all []process) {
	names, _ := filepath.Glob("/proc/[0-9]*/stat")
	for _, name := range names {
		stat, err := os.ReadFile(name)
		if err != nil {
			continue
		}
		_, after, _ := strings.Cut(string(stat), ") ") // the name before may hold anything
		var state string
		var parent int
		var p process
		p.id, _ = strconv.Atoi(filepath.Base(filepath.Dir(name)))
		if _, err := fmt.Sscan(after, &state, &parent, &p.group); err == nil && meant(p) {
			all = append(all, p)
		}
	}
	return all
}

package shots

import (
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"runtime"
	"sync"
	"syscall"
	"time"

	"golang.org/x/sys/unix"
)

// door is a proxy through which a browser reaches the previews and nothing else. Where the system gives the browser a
// network of its own, the door is all that there is in it.
type door struct {
	address string
	listen  net.Listener // nil until the browser is there whose network it stands in
	server  *http.Server
}

// inside is where the door stands in a network of its own.
const inside = "127.0.0.1:8080"

// ownNetwork reports whether the system lets Mendry give a process a network of its own (network_namespaces(7)): it takes
// root, and a system that knows them.
var ownNetwork = sync.OnceValue(func() bool {
	try := exec.Command("/bin/true")
	try.SysProcAttr = &syscall.SysProcAttr{Cloneflags: unix.CLONE_NEWNET}
	return try.Run() == nil
})

// makeDoor makes the door for a browser that is about to start.
func makeDoor(previews http.Handler, own bool) (*door, error) {
	d := &door{address: inside, server: &http.Server{
		ReadHeaderTimeout: 10 * time.Second,
		Handler: http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if r.Method == http.MethodConnect || r.URL.Host == "" {
				http.Error(w, "Only previews are seen from here.", http.StatusForbidden)
				return
			}
			previews.ServeHTTP(w, r) // whatever else is asked for has no token that it knows
		}),
	}}
	if own {
		return d, nil
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, err
	}
	d.listen, d.address = l, l.Addr().String()
	return d, nil
}

// open opens the door to a browser that has started.
func (d *door) open(pid int) (err error) {
	if d.listen == nil {
		d.listen, err = listenIn(pid, d.address)
	}
	if err == nil {
		go func() { _ = d.server.Serve(d.listen) }()
	}
	return err
}

func (d *door) shut() {
	if d.listen != nil {
		_ = d.listen.Close() // where it was never served
	}
	_ = d.server.Close()
}

// listenIn listens in the network of a process, of which nothing but this machine's own address is set up.
func listenIn(pid int, address string) (l net.Listener, err error) {
	done := make(chan struct{})
	go func() {
		defer close(done)
		runtime.LockOSThread() // for good: a thread that has been in another network ends with its goroutine
		if err = enter(pid); err == nil {
			l, err = net.Listen("tcp", address)
		}
	}()
	<-done
	return l, err
}

// enter brings this thread into the network of a process, and sets up its loopback.
func enter(pid int) error {
	ns, err := os.Open(fmt.Sprintf("/proc/%d/ns/net", pid))
	if err != nil {
		return err
	}
	defer ns.Close()
	if err := unix.Setns(int(ns.Fd()), unix.CLONE_NEWNET); err != nil {
		return fmt.Errorf("enter the browser's network: %w", err)
	}
	s, err := unix.Socket(unix.AF_INET, unix.SOCK_DGRAM|unix.SOCK_CLOEXEC, 0)
	if err != nil {
		return err
	}
	defer func() { _ = unix.Close(s) }()
	lo, err := unix.NewIfreq("lo")
	if err != nil {
		return err
	}
	lo.SetUint16(unix.IFF_UP)
	if err := unix.IoctlIfreq(s, unix.SIOCSIFFLAGS, lo); err != nil {
		return fmt.Errorf("set up the browser's loopback: %w", err)
	}
	return nil
}

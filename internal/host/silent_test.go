package host_test

import (
	"bufio"
	"context"
	"crypto/ed25519"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"golang.org/x/crypto/ssh"

	"mendry/internal/host"
)

// mute listens, lets a host answer on each connection, and then says nothing more.
func mute(t *testing.T, answer func(c net.Conn)) (address string) {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ended := make(chan struct{})
	t.Cleanup(func() { close(ended); _ = l.Close() })
	go func() {
		for c, err := l.Accept(); err == nil; c, err = l.Accept() {
			go func() {
				defer c.Close()
				answer(c)
				<-ended
			}()
		}
	}()
	return l.Addr().String()
}

// ftpUpTo speaks FTP (RFC 959, 5.4) and falls silent when it is asked for something.
func ftpUpTo(t *testing.T, until string, data string) func(c net.Conn) {
	return func(c net.Conn) {
		if until == "connect" {
			return
		}
		fmt.Fprint(c, "220 ready\r\n")
		for in := bufio.NewScanner(c); in.Scan(); {
			verb, _, _ := strings.Cut(in.Text(), " ")
			if verb == until {
				return
			}
			switch verb {
			case "USER":
				fmt.Fprint(c, "331 password\r\n")
			case "PASS":
				fmt.Fprint(c, "230 in\r\n")
			case "EPSV":
				_, port, _ := net.SplitHostPort(data)
				fmt.Fprintf(c, "229 here (|||%s|)\r\n", port)
			case "LIST", "MLSD", "RETR":
				fmt.Fprint(c, "150 it comes\r\n")
			case "TYPE", "OPTS":
				fmt.Fprint(c, "200 fine\r\n")
			default:
				fmt.Fprint(c, "502 no\r\n")
			}
		}
	}
}

// silent lets somebody in, begins what is asked for, and says no more.
func silent(c net.Conn, conf *ssh.ServerConfig) {
	_, channels, requests, err := ssh.NewServerConn(c, conf)
	if err != nil {
		return
	}
	go ssh.DiscardRequests(requests)
	for one := range channels {
		_, asked, err := one.Accept()
		if err != nil {
			return
		}
		go func() {
			for q := range asked {
				_ = q.Reply(true, nil)
			}
		}()
	}
}

// A host may fall silent at any point of any protocol: it is waited for as long as was said, told to be slow, and nothing of
// it goes on.
func TestAHostThatFallsSilentIsNotWaitedForForEver(t *testing.T) {
	t.Parallel()
	const limit = 300 * time.Millisecond
	_, own, err := ed25519.GenerateKey(nil)
	if err != nil {
		t.Fatal(err)
	}
	signer, err := ssh.NewSignerFromKey(own)
	if err != nil {
		t.Fatal(err)
	}
	door := &ssh.ServerConfig{NoClientAuth: true}
	door.AddHostKey(signer)
	asks := &ssh.ServerConfig{PasswordCallback: func(ssh.ConnMetadata, []byte) (*ssh.Permissions, error) { select {} }}
	asks.AddHostKey(signer)
	nothing := func(net.Conn) {}
	data := mute(t, nothing)
	web := func(part string) func(c net.Conn) {
		return func(c net.Conn) {
			if _, err := http.ReadRequest(bufio.NewReader(c)); err == nil {
				_, _ = io.WriteString(c, part)
			}
		}
	}
	for name, tt := range map[string]struct {
		kind, scheme string
		answer       func(c net.Conn)
	}{
		"FTP, no greeting":              {"ftp", "ftp", ftpUpTo(t, "connect", "")},
		"FTP under TLS, no greeting":    {"ftp", "ftps", ftpUpTo(t, "connect", "")},
		"FTP under TLS, not agreed":     {"ftp", "ftps", ftpUpTo(t, "AUTH", "")},
		"FTP, name":                     {"ftp", "ftp", ftpUpTo(t, "USER", "")},
		"FTP, password":                 {"ftp", "ftp", ftpUpTo(t, "PASS", "")},
		"FTP, what it knows":            {"ftp", "ftp", ftpUpTo(t, "FEAT", "")},
		"FTP, a line for data":          {"ftp", "ftp", ftpUpTo(t, "EPSV", "")},
		"FTP, a list":                   {"ftp", "ftp", ftpUpTo(t, "LIST", data)},
		"FTP, nothing on the data line": {"ftp", "ftp", ftpUpTo(t, "", data)},
		"SFTP, no greeting":             {"sftp", "sftp", nothing},
		"SFTP, greeting":                {"sftp", "sftp", func(c net.Conn) { fmt.Fprint(c, "SSH-2.0-OpenSSH_9.2\r\n") }},
		"SFTP, sign-in":                 {"sftp", "sftp", func(c net.Conn) { silent(c, asks) }},
		"SFTP, session":                 {"sftp", "sftp", func(c net.Conn) { silent(c, door) }},
		"git, no greeting":              {"git", "ssh", nothing},
		"git, session":                  {"git", "ssh", func(c net.Conn) { silent(c, door) }},
		"git over HTTP":                 {"git", "http", nothing},
		"git over HTTP, half an answer": {"git", "http", web("HTTP/1.1 200 OK\r\nContent-Type: application/x-git-upload-pack-advertisement\r\n\r\n001e# service=git-up")},
		"WebDAV":                        {"webdav", "http", nothing},
		"WebDAV, half a head":           {"webdav", "http", web("HTTP/1.1 207 Multi-St")},
		"WebDAV, half an answer":        {"webdav", "http", web("HTTP/1.1 207 Multi-Status\r\nContent-Type: text/xml\r\nContent-Length: 900\r\n\r\n<?xml")},
		"by hand":                       {"hand", "http", nothing},
		"by hand, half a page":          {"hand", "http", web("HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: 900\r\n\r\n<p>")},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			at := tt.scheme + "://" + mute(t, tt.answer) + "/"
			r := host.Reach{Kind: tt.kind, URL: at, Public: at, User: "keeper", Pass: "key"}
			if tt.kind == "git" {
				r.URL += "site.git"
			}
			h, err := host.Open(host.Network{Loopback: true}, r, limit)
			if err != nil {
				t.Fatal(err)
			}
			began := time.Now()
			done := make(chan error, 1)
			go func() {
				_, err := h.List(context.Background(), nil)
				done <- err
			}()
			// git gives what it makes ten times as long; what comes over a data line is asked for once more.
			select {
			case err := <-done:
				// Nobody is sent to look for the address of a repository that is right.
				if !host.Is(err, host.Slow) && (tt.kind == "git" || !host.Is(err, host.Down) && !host.Is(err, host.Short)) {
					t.Errorf("after %s: %v", time.Since(began), err)
				}
			case <-time.After(20 * limit):
				t.Errorf("it is waited for after %s still", time.Since(began))
			}
		})
	}
}

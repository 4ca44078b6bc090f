package hosttest

import (
	"crypto/ed25519"
	"crypto/rand"
	"encoding/pem"
	"fmt"
	"os"
	"os/exec"
	"strconv"
	"testing"

	"golang.org/x/crypto/ssh"
)

const sshdConf = `
Port {port}
ListenAddress 127.0.0.1
HostKey {conf}/host
AuthorizedKeysFile {conf}/keys
PidFile {conf}/pid
StrictModes no
UsePAM no
PasswordAuthentication no
KbdInteractiveAuthentication no
MaxStartups 200
`

// Key makes a key pair: the private one in OpenSSH's form, the public one as in authorized_keys.
func Key(t testing.TB) (private, public string) {
	t.Helper()
	pub, priv, err := ed25519.GenerateKey(rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	block, err := ssh.MarshalPrivateKey(priv, "")
	if err != nil {
		t.Fatal(err)
	}
	p, err := ssh.NewPublicKey(pub)
	if err != nil {
		t.Fatal(err)
	}
	return string(pem.EncodeToMemory(block)), string(ssh.MarshalAuthorizedKey(p))
}

// sshd is OpenSSH's SFTP, which signs in the servers' own user with a key.
func sshd(t testing.TB, dir string) *Server {
	t.Helper()
	s := openSSH(t, dir, "Subsystem sftp internal-sftp\nForceCommand internal-sftp\n")
	s.Kind, s.URL, s.User = "sftp", fmt.Sprintf("sftp://127.0.0.1:%d%s/", s.port, dir), owner
	return s
}

// openSSH is OpenSSH's server, with more of a configuration, which signs in with a key.
func openSSH(t testing.TB, dir, more string) *Server {
	t.Helper()
	private, public := Key(t)
	hostKey, _ := Key(t)
	conf := config(t, map[string]string{"host": hostKey, "keys": public})
	if err := os.Chown(conf+"/host", 0, 0); err != nil {
		t.Fatal(err)
	}
	if err := os.Chmod(conf+"/host", 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.MkdirAll("/run/sshd", 0o755); err != nil { // where it gives up its rights
		t.Fatal(err)
	}
	port := freePort(t)
	write(t, conf+"/conf", fill(sshdConf+more, "{conf}", conf, "{port}", strconv.Itoa(port)))
	s := run(t, dir, "sshd", port, func(p string) *exec.Cmd { return exec.Command(p, "-D", "-e", "-f", conf+"/conf") })
	s.Password, s.Key = "", private
	s.NewKey = func() { // as when a host is set up anew
		hostKey, _ := Key(t)
		write(t, conf+"/host", hostKey)
		s.Kill()
		s.Up()
	}
	return s
}

// rcloneSFTP is rclone's SFTP, which signs in with a password.
func rcloneSFTP(t testing.TB, dir string) *Server {
	t.Helper()
	hostKey, _ := Key(t)
	conf := config(t, map[string]string{"none": "", "host": hostKey})
	port := freePort(t)
	s := run(t, dir, "rclone", port, func(p string) *exec.Cmd {
		return exec.Command(p, "serve", "sftp", dir, "--addr", fmt.Sprintf("127.0.0.1:%d", port), "--user", User, "--pass", Password,
			"--key", conf+"/host", "--config", conf+"/none", "--cache-dir", conf+"/cache", "--dir-cache-time", "0s", "--vfs-cache-mode", "writes", "--vfs-write-back", "0s")
	})
	s.Kind, s.URL = "sftp", fmt.Sprintf("sftp://127.0.0.1:%d/", port)
	return s
}

// folder is no server: the folder itself, as where a host is mounted.
func folder(t testing.TB, dir string) *Server {
	t.Helper()
	s := &Server{Kind: "folder", URL: "file://" + dir + "/", Dir: dir, t: t}
	s.Put, s.File = s.put, s.file
	return s
}

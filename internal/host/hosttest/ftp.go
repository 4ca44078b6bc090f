package hosttest

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"fmt"
	"math/big"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"
)

const proftpdConf = `
ServerName "site"
ServerType standalone
DefaultServer on
Port {port}
DefaultAddress 127.0.0.1
SocketBindTight on
UseIPv6 off
User www-data
Group nogroup
ModulePath /usr/lib/proftpd
LoadModule mod_tls.c
AuthOrder mod_auth_file.c
AuthUserFile {conf}/users
RequireValidShell off
DefaultRoot {dir}
AllowOverwrite on
AllowStoreRestart off
HiddenStores off
UseReverseDNS off
WtmpLog off
TransferLog none
SystemLog {conf}/log
PidFile {conf}/pid
ScoreboardFile {conf}/score
DelayEngine off
MaxLoginAttempts 10
PassivePorts {first} {last}
<IfModule mod_tls.c>
  TLSEngine on
  TLSRequired on
  TLSProtocol TLSv1.2 TLSv1.3
  TLSECCertificateFile {conf}/cert
  TLSECCertificateKeyFile {conf}/key
  TLSLog {conf}/tls
</IfModule>
`

const passivePorts = 24

// proftpd takes files over FTP under TLS only, with a certificate that the test trusts.
func proftpd(t testing.TB, dir string) *Server {
	t.Helper()
	u, err := user.Lookup(owner)
	if err != nil {
		t.Fatal(err)
	}
	hash, err := exec.Command("openssl", "passwd", "-1", Password).Output()
	if err != nil {
		t.Skip("openssl is not installed (make system)")
	}
	cert, key, roots := certificate(t)
	conf := config(t, map[string]string{
		"cert": cert, "key": key,
		"users": fmt.Sprintf("%s:%s:%s:%s::%s:/bin/false\n", User, strings.TrimSpace(string(hash)), u.Uid, u.Gid, dir),
	})
	for _, f := range []string{"users", "key"} {
		if err := os.Chmod(conf+"/"+f, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	if err := os.Chmod(conf, 0o700); err != nil {
		t.Fatal(err)
	}
	if err := os.Chown(conf, 0, 0); err != nil {
		t.Fatal(err)
	}
	port, first := freePort(t), passive()
	write(t, conf+"/conf", fill(proftpdConf, "{conf}", conf, "{port}", strconv.Itoa(port), "{dir}", dir,
		"{first}", strconv.Itoa(first), "{last}", strconv.Itoa(first+passivePorts-1)))
	s := run(t, dir, "proftpd", port, func(p string) *exec.Cmd { return exec.Command(p, "-n", "-q", "-c", conf+"/conf") })
	s.Kind, s.URL = "ftp", fmt.Sprintf("ftps://localhost:%d/", port)
	for i := range passivePorts {
		s.more = append(s.more, first+i)
	}
	s.TLS = &tls.Config{RootCAs: roots, MinVersion: tls.VersionTLS12}
	return s
}

const vsftpdConf = `
listen=YES
listen_ipv6=NO
listen_address=127.0.0.1
listen_port={port}
background=NO
pasv_address=127.0.0.1
pasv_min_port={first}
pasv_max_port={last}
anonymous_enable=NO
local_enable=YES
local_root={dir}
chroot_local_user=YES
allow_writeable_chroot=YES
write_enable=YES
pam_service_name={service}
secure_chroot_dir={conf}/empty
seccomp_sandbox=NO
xferlog_enable=NO
`

// vsftpd is as Debian ships it in all that matters here: its lists hide names that begin with a dot, it knows no MLST, and new
// files are for their owner alone (umask 077). It lies in a folder of its own, since Debian's package keeps out that of ProFTPD.
// Its users are the machine's; a service of PAM's that lasts as long as the test lets them in with any password.
func vsftpd(t testing.TB, dir string) *Server {
	t.Helper()
	conf := config(t, nil)
	if err := os.Mkdir(conf+"/empty", 0o755); err != nil {
		t.Fatal(err)
	}
	service := filepath.Base(conf)
	rules := "/etc/pam.d/" + service
	write(t, rules, "auth required pam_permit.so\naccount required pam_permit.so\nsession required pam_permit.so\n")
	t.Cleanup(func() { _ = os.Remove(rules) })
	port, first := freePort(t), passive()
	write(t, conf+"/conf", fill(vsftpdConf, "{conf}", conf, "{port}", strconv.Itoa(port), "{dir}", dir, "{service}", service,
		"{first}", strconv.Itoa(first), "{last}", strconv.Itoa(first+passivePorts-1)))
	if err := os.Chown(conf+"/conf", 0, 0); err != nil {
		t.Fatal(err)
	}
	s := run(t, dir, "/usr/local/lib/mendry-tests/vsftpd", port, func(p string) *exec.Cmd { return exec.Command(p, conf+"/conf") })
	s.Kind, s.URL, s.User, s.AnyPassword = "ftp", fmt.Sprintf("ftp://127.0.0.1:%d/", port), owner, true
	for i := range passivePorts {
		s.more = append(s.more, first+i)
	}
	return s
}

// certificate is one for localhost, signed by itself.
func certificate(t testing.TB) (cert, key string, roots *x509.CertPool) {
	t.Helper()
	k, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	c := &x509.Certificate{
		SerialNumber:          big.NewInt(1),
		Subject:               pkix.Name{CommonName: "localhost"},
		DNSNames:              []string{"localhost"},
		IPAddresses:           []net.IP{net.IPv4(127, 0, 0, 1), net.IPv4(127, 0, 0, 2)},
		NotBefore:             time.Now().Add(-time.Hour),
		NotAfter:              time.Now().Add(time.Hour),
		IsCA:                  true,
		BasicConstraintsValid: true,
		KeyUsage:              x509.KeyUsageDigitalSignature | x509.KeyUsageCertSign,
		ExtKeyUsage:           []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
	}
	der, err := x509.CreateCertificate(rand.Reader, c, c, &k.PublicKey, k)
	if err != nil {
		t.Fatal(err)
	}
	kb, err := x509.MarshalECPrivateKey(k)
	if err != nil {
		t.Fatal(err)
	}
	cert = string(pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}))
	roots = x509.NewCertPool()
	roots.AppendCertsFromPEM([]byte(cert))
	return cert, string(pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: kb})), roots
}

package host

import (
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"io"
	"log"
	"math/big"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"
)

// What is wrong with a certificate, by servers that show such ones: of another name, over, signed by nobody, or none at all.
func TestWhatIsWrongWithACertificateIsTold(t *testing.T) {
	t.Parallel()
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	now := time.Now()
	for _, c := range []struct {
		name    string
		cert    x509.Certificate
		trusted bool
		says    string
	}{
		{"another name", x509.Certificate{DNSNames: []string{"shop.example"}, NotAfter: now.Add(time.Hour)}, true, "it is for shop.example"},
		{"no name", x509.Certificate{NotAfter: now.Add(time.Hour)}, true, "it names no host"},
		{"over", x509.Certificate{IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, NotAfter: now.Add(-time.Minute)}, true, "its time is over"},
		{"unknown", x509.Certificate{IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, NotAfter: now.Add(time.Hour)}, false, "nobody whom browsers trust has signed it"},
	} {
		c.cert.SerialNumber, c.cert.NotBefore, c.cert.Subject = big.NewInt(1), now.Add(-time.Hour), pkix.Name{CommonName: "a host"}
		c.cert.BasicConstraintsValid, c.cert.IsCA = true, true
		der, err := x509.CreateCertificate(rand.Reader, &c.cert, &c.cert, key.Public(), key)
		if err != nil {
			t.Fatal(err)
		}
		srv := httptest.NewUnstartedServer(http.NotFoundHandler())
		srv.Config.ErrorLog = log.New(io.Discard, "", 0)
		srv.TLS = &tls.Config{Certificates: []tls.Certificate{{Certificate: [][]byte{der}, PrivateKey: key}}, MinVersion: tls.VersionTLS12}
		srv.StartTLS()
		defer srv.Close()
		roots := x509.NewCertPool()
		if c.trusted {
			made, err := x509.ParseCertificate(der)
			if err != nil {
				t.Fatal(err)
			}
			roots.AddCert(made)
		}
		_, err = NewVisitor(Network{Loopback: true, TLS: &tls.Config{RootCAs: roots, MinVersion: tls.VersionTLS12}}, patience).Get(context.Background(), srv.URL)
		if !Is(err, Certificate) || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", c.name, err)
		}
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	go func() {
		for c, err := l.Accept(); err == nil; c, err = l.Accept() {
			_, _ = c.Write([]byte("220 mail\r\n"))
			_ = c.Close()
		}
	}()
	if _, err := NewVisitor(Network{Loopback: true}, patience).Get(context.Background(), "https://"+l.Addr().String()); !Is(err, Certificate) || !strings.Contains(err.Error(), "does not speak TLS") {
		t.Errorf("no TLS: %v", err)
	}
}

// Words that people read are sentences: what is missing, who is kept off, and from what.
func TestWhatAHostRefusesIsToldInSentences(t *testing.T) {
	t.Parallel()
	for want, err := range map[string]error{
		"There is no such folder on the host.":     fromStatus(404, "the folder"),
		"There is no such repository on the host.": fromStatus(404, "the repository"),
		"There is no fares.html on the host.":      fromStatus(404, "fares.html"),
		"Visitors may not read http://x/pier.png":  kept(403, "http://x/pier.png"),
	} {
		if !strings.HasPrefix(err.Error(), want) {
			t.Errorf("%v, want %s", err, want)
		}
	}
}

package host_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"mendry/internal/host"
	"mendry/internal/host/hosttest"
)

func open(t *testing.T, s *hosttest.Server, pass string) host.Host {
	t.Helper()
	h, err := host.Open(host.Network{Loopback: true}, host.Reach{Kind: s.Kind, URL: s.URL, User: hosttest.User, Pass: pass, By: "Mendry of the test"}, 5*time.Second)
	if err != nil {
		t.Fatal(err)
	}
	return h
}

func TestLooking(t *testing.T) {
	for _, k := range hosttest.Kinds {
		t.Run(k.Name, func(t *testing.T) {
			s := hosttest.Start(t, k.Name)
			h := open(t, s, hosttest.Password)
			ctx := context.Background()
			kn, err := h.Try(ctx)
			fmt.Println(k.Name, fmt.Sprintf("%+v", kn), err)
			s.Put("index.html", "<p>old</p>")
			l, err := h.List(ctx, nil)
			fmt.Println(l, err)
			c, err := h.Read(ctx, "index.html")
			fmt.Printf("%+v %v\n", c, err)
			c2, err := host.Put(ctx, h, "index.html", []byte("<p>old</p>"), []byte("<p>new</p>"), false)
			fmt.Printf("%+v %v\n", c2, err)
			_, err = host.Put(ctx, h, "img/deep/a.png", nil, []byte("png"), false)
			fmt.Println(err)
		})
	}
}

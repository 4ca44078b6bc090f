package link

import "testing"

func TestAFileIsNamed(t *testing.T) {
	for _, c := range []struct {
		written, file string
		want          bool
	}{
		{`<img src="/img/quay.jpg">`, "img/quay.jpg", true},
		{`<img src="../img/quay.jpg?v=2">`, "img/quay.jpg", true},
		{`<img src="quay.jpg">`, "img/quay.jpg", true},
		{`<img src="./quay.jpg">`, "img/quay.jpg", true},
		{`<img src="../quay.jpg">`, "img/quay.jpg", true},
		{`<img src="/old/quay.jpg">`, "img/quay.jpg", false},
		{`<img src="old-quay.jpg">`, "img/quay.jpg", false},
		{`<img src="/img/quay.jpg">`, "quay.jpg", false},
		{`<img src="/quay.jpg">`, "quay.jpg", true},
		{`<img src="/quay.jpg">`, "img/quay.jpg", false},
		{`<a href="https://site.example/quay.jpg">`, "quay.jpg", true},
		{`<a href="https://site.example/img/quay.jpg">`, "img/quay.jpg", true},
		{`background:url( 'The%20quay.jpg' )`, "img/The quay.jpg", true},
		{`srcset="/img/Caf%C3%A9.jpg 2x"`, "img/Café.jpg", true},
		{`{"picture":"\/img\/quay.jpg"}`, "img/quay.jpg", true},
		{`const dir = 'img/'; show(dir + "quay.jpg")`, "img/quay.jpg", true},
		{`<img src="/my%20pictures/quay.jpg">`, "my pictures/quay.jpg", true},
		{"nothing", "img/quay.jpg", false},
	} {
		if got := Names([]byte(c.written), c.file); got != c.want {
			t.Errorf("%s names %s: %v", c.written, c.file, got)
		}
	}
}

package change

import (
	"fmt"
	"strings"

	"mendry/internal/core/diff"
	"mendry/internal/core/page"
)

// ToldApart says in words how a part differs from the one that stands for it on other pages.
func ToldApart(others, one *page.Part) string {
	var said []string
	var gone, more strings.Builder
	end := func() {
		without, with := strings.TrimSpace(gone.String()), strings.TrimSpace(more.String())
		switch {
		case without != "" && with != "":
			said = append(said, fmt.Sprintf("“%s” instead of “%s”", page.Short(with, 60), page.Short(without, 60)))
		case with != "":
			said = append(said, fmt.Sprintf("“%s” besides", page.Short(with, 60)))
		case without != "":
			said = append(said, fmt.Sprintf("without “%s”", page.Short(without, 60)))
		}
		gone.Reset()
		more.Reset()
	}
	for _, run := range diff.Words(others.Text, one.Text) {
		switch run.Is {
		case diff.Same:
			end()
		case diff.Gone:
			gone.WriteString(run.Text)
		case diff.New:
			more.WriteString(run.Text)
		}
	}
	end()
	const most = 3
	switch {
	case len(said) > most:
		return fmt.Sprintf("%s, and %d more places", strings.Join(said[:most], ", "), len(said)-most)
	case len(said) > 0:
		return strings.Join(said, ", ")
	}
	return "the same words, other markup or links"
}

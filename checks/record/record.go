package record

import (
	"bufio"
	"crypto/sha256"
	"encoding/base32"
	"fmt"
	"io"
	"regexp"
	"runtime"
	"sort"
	"strings"
	"sync"
	"time"
)

// noon is when every case of the record is looked at.
var noon = time.Date(2026, 1, 15, 12, 0, 0, 0, time.UTC)

var figure = regexp.MustCompile(`[−-]?\d+(?:\.\d+)?`)

// shortened is a sentence without its figures, named by a few letters of its
// hash, and the figures.
func shortened(sentence string) (name, template, figures string) {
	template = figure.ReplaceAllString(sentence, "#")
	sum := sha256.Sum256([]byte(template))
	return strings.ToLower(
		base32.StdEncoding.EncodeToString(sum[:])[:6],
	), template, strings.Join(figure.FindAllString(sentence, -1), " ")
}

// book collects the sentences of the record.
type book struct {
	mu        sync.Mutex
	templates map[string]string
}

func (b *book) put(sentence string) string {
	if sentence == "" {
		return "-"
	}
	name, template, figures := shortened(sentence)
	b.mu.Lock()
	defer b.mu.Unlock()
	if old, ok := b.templates[name]; ok && old != template {
		panic("two sentences of one name: " + old + " / " + template)
	}
	b.templates[name] = template
	if figures == "" {
		return name
	}
	return name + "(" + figures + ")"
}

// Write judges every case and writes the record: first each sentence once, by a
// short name and without its figures, then what is said of each case.
func Write(w io.Writer) error {
	cases, b, err := judgeAll(1)
	if err != nil {
		return err
	}
	out := bufio.NewWriter(w)
	names := make([]string, 0, len(b.templates))
	for n := range b.templates {
		names = append(names, n)
	}
	sort.Slice(names, func(i, j int) bool { return b.templates[names[i]] < b.templates[names[j]] })
	for _, n := range names {
		_, _ = fmt.Fprintf(out, "%s %s\n", n, b.templates[n])
	}
	for _, c := range cases {
		_, _ = fmt.Fprintf(out, "\n%s", c)
	}
	return out.Flush()
}

// judgeAll judges every so many of the cases.
func judgeAll(step int) ([]string, *book, error) {
	docs := Documents()
	b := &book{templates: map[string]string{}}
	out := make([]string, len(docs))
	err := inParallel(len(docs), func(i int) error {
		if i%step != 0 {
			return nil
		}
		c, err := decode(docs[i])
		if err != nil {
			return fmt.Errorf("case %d is refused: %w\n%s", i, err, docs[i].Case)
		}
		out[i] = written(i, docs[i], judged(c), b)
		return nil
	})
	return out, b, err
}

// inParallel does n things, as many at once as there are processors, and gives the first
// error by their order.
func inParallel(n int, do func(i int) error) error {
	errs := make([]error, n)
	next := make(chan int)
	var wg sync.WaitGroup
	for range runtime.NumCPU() {
		wg.Go(func() {
			for i := range next {
				errs[i] = do(i)
			}
		})
	}
	for i := range n {
		next <- i
	}
	close(next)
	wg.Wait()
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return nil
}

// written is one case of the record.
func written(n int, d Document, e entry, b *book) string {
	sum := sha256.Sum256(append([]byte(fmt.Sprint(len(d.Replaced))), d.Case...))
	var s strings.Builder
	_, _ = fmt.Fprintf(&s, "#%04d %x %s %s %s %s %s %s\n", n, sum[:3], e.verdict, e.soc, e.cca, b.put(e.headline),
		b.put(e.because), b.put(e.wait))
	for _, l := range e.lines {
		s.WriteString(l.mark)
		for _, f := range l.fields {
			s.WriteString(" " + f)
		}
		for _, w := range l.words {
			s.WriteString(" " + b.put(w))
		}
		s.WriteString("\n")
	}
	return s.String()
}

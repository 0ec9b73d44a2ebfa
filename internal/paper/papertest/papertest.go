// Package papertest reads papers back with programs that did not write them: poppler, and a
// reader of codes.
package papertest

import (
	"bytes"
	"image"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"

	"grapnel/internal/fatal"
)

// File is a paper as a file.
type File struct {
	t    testing.TB
	path string
}

// Of keeps a paper as a file. The tests cannot run without poppler-utils, which make test
// installs.
func Of(t testing.TB, raw []byte) File {
	t.Helper()
	if _, err := exec.LookPath("pdftotext"); err != nil {
		t.Fatal("poppler-utils is missing: run make test, which installs it")
	}
	f := File{t, filepath.Join(t.TempDir(), "paper.pdf")}
	fatal.On(t, os.WriteFile(f.path, raw, 0o600))
	return f
}

func (f File) run(name string, args ...string) string {
	f.t.Helper()
	var out, wrong bytes.Buffer
	c := exec.Command(name, args...)
	c.Stdout, c.Stderr = &out, &wrong
	if err := c.Run(); err != nil || wrong.Len() > 0 {
		f.t.Fatalf("%s: %v %s", name, err, wrong.String())
	}
	return out.String()
}

// Text gives what stands on it, in the order it is read.
func (f File) Text() string {
	f.t.Helper()
	return strings.Join(strings.Fields(f.run("pdftotext", "-raw", f.path, "-")), " ")
}

// Pages gives how many it has.
func (f File) Pages() int {
	f.t.Helper()
	m := regexp.MustCompile(`Pages:\s+(\d+)`).FindStringSubmatch(f.run("pdfinfo", f.path))
	n, err := strconv.Atoi(m[1])
	fatal.On(f.t, err)
	return n
}

// Size gives its paper in points.
func (f File) Size() string {
	f.t.Helper()
	return regexp.MustCompile(`Page size:\s+(.*)`).FindStringSubmatch(f.run("pdfinfo", f.path))[1]
}

// Title gives the title that stands over its window.
func (f File) Title() string {
	f.t.Helper()
	return strings.TrimSpace(regexp.MustCompile(`Title:\s+(.*)`).FindStringSubmatch(f.run("pdfinfo", f.path))[1])
}

// Tagged gives the texts of the pieces of a kind (H1, H2, P, Figure), as a screen reader
// comes to them.
func (f File) Tagged(kind string) []string {
	f.t.Helper()
	var out []string
	inside := false
	for _, line := range strings.Split(f.run("pdfinfo", "-struct-text", f.path), "\n") {
		text := strings.TrimSpace(line)
		switch {
		case strings.HasPrefix(text, `"`):
			if inside && len(out) > 0 {
				out[len(out)-1] += strings.Trim(text, `"`)
			}
		case text != "":
			if inside = strings.Fields(text)[0] == kind; inside {
				out = append(out, "")
			}
		}
	}
	return out
}

// Embedded fails where a font does not come with the file.
func (f File) Embedded() {
	f.t.Helper()
	lines := strings.Split(strings.TrimSpace(f.run("pdffonts", f.path)), "\n")
	if len(lines) < 3 {
		f.t.Error("it has no fonts at all")
	}
	for _, line := range lines[2:] {
		if !regexp.MustCompile(`\s+yes\s+(yes|no)\s+yes\s+\d+\s+\d+\s*$`).MatchString(line) {
			f.t.Errorf("a font is not embedded, or its letters cannot be read back: %s", line)
		}
	}
}

// Picture gives a page as it is printed.
func (f File) Picture(page, dpi int) image.Image {
	f.t.Helper()
	to := filepath.Join(f.t.TempDir(), "page")
	f.run("pdftoppm", "-r", strconv.Itoa(dpi), "-f", strconv.Itoa(page), "-l", strconv.Itoa(page), "-png", "-singlefile", f.path, to)
	raw, err := os.ReadFile(to + ".png")
	fatal.On(f.t, err)
	img, err := png.Decode(bytes.NewReader(raw))
	fatal.On(f.t, err)
	return img
}

// Code reads the code in a part of a picture.
func Code(t testing.TB, img image.Image) string {
	t.Helper()
	bits, err := gozxing.NewBinaryBitmapFromImage(img)
	fatal.On(t, err)
	found, err := qrcode.NewQRCodeReader().Decode(bits, map[gozxing.DecodeHintType]any{gozxing.DecodeHintType_TRY_HARDER: true})
	fatal.On(t, err)
	return found.GetText()
}

// Part cuts a part out of a picture, in mm at so many dots an inch.
func Part(img image.Image, dpi int, x, y, w, h float64) image.Image {
	px := func(mm float64) int { return int(mm / 25.4 * float64(dpi)) }
	type parts interface {
		SubImage(r image.Rectangle) image.Image
	}
	return img.(parts).SubImage(image.Rect(px(x), px(y), px(x+w), px(y+h)))
}

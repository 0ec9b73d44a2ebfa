package photo

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"grapnel/internal/effort"
	"grapnel/internal/fatal"
)

// corner is a picture with one red corner, upper left, so that its turning shows.
func corner(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{20, 40, 200, 255}
			if x < w/4 && y < h/4 {
				c = color.RGBA{220, 20, 20, 255}
			}
			img.SetRGBA(x, y, c)
		}
	}
	return img
}

func asJPEG(t testing.TB, img image.Image) []byte {
	var out bytes.Buffer
	fatal.On(t, jpeg.Encode(&out, img, nil))
	return out.Bytes()
}

func asPNG(t testing.TB, img image.Image) []byte {
	var out bytes.Buffer
	fatal.On(t, png.Encode(&out, img))
	return out.Bytes()
}

// withExif puts a camera's notes into a JPEG: how it was held, and where.
func withExif(raw []byte, way uint16, order binary.AppendByteOrder) []byte {
	mark := "II*\x00"
	if order == binary.AppendByteOrder(binary.BigEndian) {
		mark = "MM\x00*"
	}
	tiff := order.AppendUint32([]byte(mark), 8)
	tiff = order.AppendUint16(tiff, 2)
	tiff = order.AppendUint16(tiff, 271) // make of the device
	tiff = order.AppendUint16(tiff, 2)
	tiff = order.AppendUint32(tiff, 20)
	tiff = order.AppendUint32(tiff, 38)
	tiff = order.AppendUint16(tiff, 274)
	tiff = order.AppendUint16(tiff, 3)
	tiff = order.AppendUint32(tiff, 1)
	tiff = order.AppendUint16(tiff, way)
	tiff = order.AppendUint16(tiff, 0)
	tiff = order.AppendUint32(tiff, 0)
	tiff = append(tiff, "SECRET PHONE 47.1N 9\x00"...)
	body := append([]byte("Exif\x00\x00"), tiff...)
	out := append([]byte{0xFF, 0xD8, 0xFF, 0xE1}, binary.BigEndian.AppendUint16(nil, uint16(len(body)+2))...)
	return append(append(out, body...), raw[2:]...)
}

func made(t *testing.T, raw []byte) (Photo, image.Image) {
	t.Helper()
	p, err := Make(context.Background(), raw)
	if err != nil {
		t.Fatal(err)
	}
	img, err := jpeg.Decode(bytes.NewReader(p.JPEG))
	fatal.On(t, err)
	if img.Bounds().Dx() != p.Width || img.Bounds().Dy() != p.Height {
		t.Errorf("says %d × %d, is %v", p.Width, p.Height, img.Bounds())
	}
	return p, img
}

// Nothing of what the camera noted is left: neither place nor device; and a picture stands the
// way it was seen, however it was held (Exif 2.3, tag 274).
func TestNotesAreGoneAndItStandsUpright(t *testing.T) {
	// Where the red corner is seen, in the order of the tag's values.
	where := [9][2]int{{}, {0, 0}, {1, 0}, {1, 1}, {0, 1}, {0, 0}, {1, 0}, {1, 1}, {0, 1}}
	for _, order := range []binary.AppendByteOrder{binary.LittleEndian, binary.BigEndian} {
		for way := 1; way <= 8; way++ {
			raw := withExif(asJPEG(t, corner(80, 40)), uint16(way), order)
			p, img := made(t, raw)
			if bytes.Contains(p.JPEG, []byte("SECRET")) || bytes.Contains(p.Small, []byte("SECRET")) || bytes.Contains(p.JPEG, []byte("Exif")) {
				t.Error("the camera's notes are kept")
			}
			if tall := p.Height > p.Width; tall != (way >= 5) {
				t.Errorf("held %d: %d × %d", way, p.Width, p.Height)
			}
			x, y := 4+where[way][0]*(p.Width-9), 4+where[way][1]*(p.Height-9)
			if r, _, b, _ := img.At(x, y).RGBA(); r < b {
				t.Errorf("held %d: the red corner is not at %d, %d", way, x, y)
			}
		}
	}
	for _, way := range []uint16{0, 9, 65535} { // nonsense counts as upright
		if got := orientation(withExif(asJPEG(t, corner(80, 40)), way, binary.BigEndian)); got != 1 {
			t.Errorf("%d is taken for %d", way, got)
		}
	}
}

// However much there is to show, what is kept has at most 2 MB and 2000 points a side.
func TestKeptSmall(t *testing.T) {
	rnd := rand.New(rand.NewPCG(1, 6))
	noise := image.NewRGBA(image.Rect(0, 0, 3000, 2200))
	for i := range noise.Pix {
		noise.Pix[i] = byte(rnd.Uint32())
	}
	p, _ := made(t, asJPEG(t, noise))
	if len(p.JPEG) > MostKept || len(p.Small) > 60_000 || max(p.Width, p.Height) > mostSide {
		t.Errorf("%d bytes, %d small, %d × %d", len(p.JPEG), len(p.Small), p.Width, p.Height)
	}
	for _, side := range []int{mostSide, mostSide + 1} {
		if p, _ := made(t, asJPEG(t, corner(side, 30))); p.Width != mostSide {
			t.Errorf("%d wide becomes %d", side, p.Width)
		}
	}
	if p, _ := made(t, asPNG(t, corner(100, 50))); p.Width != 100 || p.Height != 50 {
		t.Errorf("a small PNG becomes %d × %d", p.Width, p.Height)
	}
	clear := image.NewRGBA(image.Rect(0, 0, 40, 40)) // nothing to see stands on white
	if _, img := made(t, asPNG(t, clear)); color.GrayModel.Convert(img.At(20, 20)).(color.Gray).Y < 250 {
		t.Error("what is clear is dark")
	}
}

// What is hostile to a decoder is refused, in words, before it takes memory or time.
func TestHostile(t *testing.T) {
	good := asJPEG(t, corner(80, 40))
	// A PNG that says it is 60,000 points a side: 14 GB once it is decoded.
	bomb := asPNG(t, corner(80, 40))
	binary.BigEndian.PutUint32(bomb[16:], 60_000)
	binary.BigEndian.PutUint32(bomb[20:], 60_000)
	crc := pngCRC(bomb[12:29])
	binary.BigEndian.PutUint32(bomb[29:], crc)
	large := bytes.Clone(good)
	setSize(t, large, 20_000, 20_000)
	inPasses := bytes.Clone(large)
	setSize(t, inPasses, 5000, 5000)
	inPasses[bytes.Index(inPasses, []byte{0xFF, 0xC0})+1] = 0xC2
	plain := bytes.Clone(large) // as large as the one in passes, and taken as far as its size goes
	setSize(t, plain, 5000, 5000)
	svg := []byte(`<svg xmlns="http://www.w3.org/2000/svg" onload="alert(1)"/>`)
	for name, raw := range map[string][]byte{
		"nothing": nil, "text": []byte("hello"), "svg": svg, "html": []byte("<html><script>"), "a zip": []byte("PK\x03\x04"),
		"cut off": good[:len(good)/2], "head alone": good[:4], "a PNG bomb": bomb, "a large JPEG": large, "in passes": inPasses, "plain": plain,
		"tiny": asPNG(t, corner(15, 40)), "too many bytes": append(bytes.Clone(good), make([]byte, MostBytes)...),
	} {
		start := effort.CPU()
		_, err := Make(context.Background(), raw)
		var refused Refused
		if !errors.As(err, &refused) || !strings.HasSuffix(refused.Error(), ".") {
			t.Errorf("%s: %v", name, err)
		}
		// Told by its size before anything is decoded, or by its content.
		sized := name == "a PNG bomb" || name == "a large JPEG" || name == "in passes" || name == "tiny"
		if err != nil && strings.Contains(err.Error(), " points; ") != sized {
			t.Errorf("%s: %v", name, err)
		}
		if took := effort.CPU() - start; took > 5*time.Second {
			t.Errorf("%s took %s of the processor", name, took)
		}
	}
	if _, err := Make(context.Background(), asPNG(t, corner(16, 16))); err != nil {
		t.Errorf("16 points: %v", err)
	}
	if len(good) > MostBytes {
		t.Error("the good one is too large to say anything")
	}
	gone, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := Make(gone, good); err == nil {
		t.Error("it was made though nobody waits for it")
	}
}

// setSize changes what a JPEG says of its size.
func setSize(t *testing.T, raw []byte, w, h uint16) {
	t.Helper()
	i := bytes.Index(raw, []byte{0xFF, 0xC0})
	if i < 0 {
		t.Fatal("no frame")
	}
	binary.BigEndian.PutUint16(raw[i+5:], h)
	binary.BigEndian.PutUint16(raw[i+7:], w)
}

func pngCRC(b []byte) uint32 {
	crc := ^uint32(0)
	for _, x := range b {
		crc ^= uint32(x)
		for range 8 {
			if crc&1 == 1 {
				crc = crc>>1 ^ 0xEDB88320
			} else {
				crc >>= 1
			}
		}
	}
	return ^crc
}

// Whatever comes, it is a picture fit to keep or refused: nothing else, and no panic.
func FuzzMake(f *testing.F) {
	f.Add(asJPEG(f, corner(40, 20)))
	f.Add(asPNG(f, corner(40, 20)))
	f.Add(withExif(asJPEG(f, corner(40, 20)), 6, binary.BigEndian))
	f.Add([]byte{0xFF, 0xD8, 0xFF, 0xE1, 0, 2})
	f.Fuzz(func(t *testing.T, raw []byte) {
		ctx, cancel := context.WithTimeout(context.Background(), 4*time.Second)
		defer cancel()
		p, err := Make(ctx, raw)
		var refused Refused
		switch {
		case err != nil && !errors.As(err, &refused):
			t.Errorf("%v", err)
		case err == nil && (len(p.JPEG) > MostKept || p.Width < 1 || p.Height < 1):
			t.Errorf("%d bytes, %d × %d", len(p.JPEG), p.Width, p.Height)
		}
	})
}

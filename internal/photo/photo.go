// Package photo takes pictures from cameras and makes them fit to keep: turned the right way
// up, no larger than a screen shows, encoded anew as JPEG. Nothing of what came is kept but
// what can be seen: no place, no device, no time. What is hostile to a decoder is refused
// before it costs memory or time.
package photo

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // decoders by name
	"io"

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp"
)

// What is taken, and what is kept.
const (
	MostBytes = 12 << 20   // of what comes
	MostKept  = 2_000_000  // bytes of what is kept
	mostSide  = 2000       // pixels of what is kept
	smallSide = 360        // pixels of the small one
	most      = 50_000_000 // pixels of a plain JPEG: 150 MB while it is decoded
	mostOther = 16_000_000 // pixels of anything that takes more memory for each
	leastSide = 16         // fewer show nothing
)

// Photo is a picture fit to keep.
type Photo struct {
	JPEG, Small   []byte
	Width, Height int
}

// Refused is what is wrong with a picture, in words for whoever sent it.
type Refused string

func (r Refused) Error() string { return string(r) }

// turn lets one picture be decoded at a time: each may take 200 MB.
var turn = make(chan struct{}, 1)

// Make makes a picture fit to keep. The error is a Refused where the picture is at fault.
func Make(ctx context.Context, raw []byte) (Photo, error) {
	if len(raw) > MostBytes {
		return Photo{}, Refused(fmt.Sprintf("This picture has %.1f MB; at most %d MB are taken. Take it at a lower resolution.",
			float64(len(raw))/1e6, MostBytes>>20))
	}
	c, format, err := image.DecodeConfig(bytes.NewReader(raw))
	if err != nil {
		return Photo{}, Refused("This is no picture that can be read here: JPEG, PNG and WebP can. Take it anew, or save it as JPEG.")
	}
	limit := mostOther
	if format == "jpeg" && !progressive(raw) {
		limit = most
	}
	if c.Width < leastSide || c.Height < leastSide || c.Width > limit/c.Height {
		return Photo{}, Refused(fmt.Sprintf("This picture has %d × %d points; from %d × %d up to %d million are taken. Take it at a lower resolution.",
			c.Width, c.Height, leastSide, leastSide, limit/1_000_000))
	}
	select {
	case turn <- struct{}{}:
		defer func() { <-turn }()
	case <-ctx.Done():
		return Photo{}, ctx.Err()
	}
	img, err := decode(ctx, raw)
	if err != nil {
		if ctx.Err() != nil {
			return Photo{}, Refused("This picture takes too long to read. Take it at a lower resolution.")
		}
		return Photo{}, Refused("This picture is broken: it ends early, or is not what it says. Take it anew.")
	}
	way := orientation(raw)
	if format != "jpeg" {
		way = 1
	}
	large := turned(scaled(img, mostSide), way)
	out := Photo{Width: large.Bounds().Dx(), Height: large.Bounds().Dy()}
	if out.JPEG, err = encoded(large, MostKept); err != nil {
		return Photo{}, err
	}
	out.Small, err = encoded(scaled(large, smallSide), 60_000)
	return out, err
}

// decode reads a picture while its time lasts. A panic of a decoder is an error here.
func decode(ctx context.Context, raw []byte) (img image.Image, err error) {
	defer func() {
		if v := recover(); v != nil {
			err = fmt.Errorf("the decoder gave up: %v", v)
		}
	}()
	img, _, err = image.Decode(&timed{ctx, bytes.NewReader(raw)})
	return img, err
}

// timed is a reader that ends when its time does: a decoder that is fed endless work stops.
type timed struct {
	ctx context.Context
	in  io.Reader
}

func (t *timed) Read(p []byte) (int, error) {
	if err := t.ctx.Err(); err != nil {
		return 0, err
	}
	return t.in.Read(p)
}

// scaled gives a picture on white whose longest side is at most so long.
func scaled(img image.Image, side int) *image.RGBA {
	b := img.Bounds()
	w, h := b.Dx(), b.Dy()
	if long := max(w, h); long > side {
		w, h = max(1, w*side/long), max(1, h*side/long)
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(out, out.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(out, out.Bounds(), img, b, draw.Over, nil)
	return out
}

// encoded gives a JPEG of at most so many bytes.
func encoded(img image.Image, bytesMost int) ([]byte, error) {
	for side := max(img.Bounds().Dx(), img.Bounds().Dy()); side >= 1; side = side * 3 / 4 {
		for _, quality := range []int{84, 72, 58, 42} {
			var out bytes.Buffer
			if err := jpeg.Encode(&out, img, &jpeg.Options{Quality: quality}); err != nil {
				return nil, err
			}
			if out.Len() <= bytesMost {
				return out.Bytes(), nil
			}
		}
		img = scaled(img, side*3/4)
	}
	return nil, errors.New("a picture that cannot be made small enough")
}

// turned gives a picture as it is seen, by the orientation the camera noted (Exif 2.3, tag
// 274: 1 upright, 3 upside down, 6 to be turned right, 8 left; 2, 4, 5 and 7 mirrored).
func turned(img *image.RGBA, way int) *image.RGBA {
	if way < 2 || way > 8 {
		return img
	}
	w, h := img.Bounds().Dx(), img.Bounds().Dy()
	ow, oh := w, h
	if way >= 5 {
		ow, oh = h, w
	}
	out := image.NewRGBA(image.Rect(0, 0, ow, oh))
	for y := range oh {
		for x := range ow {
			sx, sy := x, y
			switch way {
			case 2:
				sx = w - 1 - x
			case 3:
				sx, sy = w-1-x, h-1-y
			case 4:
				sy = h - 1 - y
			case 5:
				sx, sy = y, x
			case 6:
				sx, sy = y, h-1-x
			case 7:
				sx, sy = w-1-y, h-1-x
			case 8:
				sx, sy = w-1-y, x
			}
			out.SetRGBA(x, y, img.RGBAAt(sx, sy))
		}
	}
	return out
}

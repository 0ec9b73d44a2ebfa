package photo

import (
	"bytes"
	"encoding/binary"
)

// segments walks the segments of a JPEG that stand before its picture, until see says stop.
func segments(raw []byte, see func(marker byte, body []byte) bool) {
	if len(raw) < 4 || raw[0] != 0xFF || raw[1] != 0xD8 {
		return
	}
	at := 2
	for at+4 <= len(raw) && raw[at] == 0xFF {
		marker := raw[at+1]
		if marker == 0xFF { // filling
			at++
			continue
		}
		if marker == 0xDA || marker == 0xD9 { // the picture itself, or its end
			return
		}
		if marker >= 0xD0 && marker <= 0xD7 || marker == 0x01 { // bare markers
			at += 2
			continue
		}
		size := int(binary.BigEndian.Uint16(raw[at+2:]))
		if size < 2 || at+2+size > len(raw) {
			return
		}
		if !see(marker, raw[at+4:at+2+size]) {
			return
		}
		at += 2 + size
	}
}

// progressive reports whether a JPEG comes in passes, which takes four times the memory.
func progressive(raw []byte) bool {
	found := false
	segments(raw, func(marker byte, _ []byte) bool {
		found = marker == 0xC2 || marker >= 0xC5 && marker <= 0xCF && marker != 0xC8 && marker != 0xCC
		return !found
	})
	return found
}

// orientation gives how a camera held the picture, 1 where it did not say.
func orientation(raw []byte) int {
	way := 1
	segments(raw, func(marker byte, body []byte) bool {
		tiff, ok := bytes.CutPrefix(body, []byte("Exif\x00\x00"))
		if marker != 0xE1 || !ok {
			return true
		}
		way = orientationIn(tiff)
		return false
	})
	return way
}

// orientationIn looks for tag 274 in the first directory of a TIFF header.
func orientationIn(tiff []byte) int {
	var order binary.ByteOrder = binary.LittleEndian
	switch {
	case len(tiff) < 14:
		return 1
	case bytes.HasPrefix(tiff, []byte("MM")):
		order = binary.BigEndian
	case !bytes.HasPrefix(tiff, []byte("II")):
		return 1
	}
	at := uint64(order.Uint32(tiff[4:]))
	if at+2 > uint64(len(tiff)) {
		return 1
	}
	n := int(order.Uint16(tiff[at:]))
	for i := range n {
		entry := at + 2 + uint64(i)*12
		if entry+12 > uint64(len(tiff)) {
			return 1
		}
		if order.Uint16(tiff[entry:]) == 274 {
			if way := int(order.Uint16(tiff[entry+8:])); way >= 1 && way <= 8 {
				return way
			}
			return 1
		}
	}
	return 1
}

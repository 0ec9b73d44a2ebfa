package document

import (
	"fmt"
	"unicode/utf8"
)

// What reading a document may cost. A document that could be one of ours stays far
// below; one made to hurt is refused before anything is built from it.
const (
	mostDepth   = 32
	mostMembers = 300 // of one object; no shape knows half as many fields

	// Bytes that the value of each kind takes once it is read, with what is thrown
	// away on the way there.
	scalarCost, listCost, objectCost, memberCost = 56, 80, 350, 40

	costPerByte = 16
	costAnyway  = 256 << 10
)

// Bounded refuses what is not text, and JSON that would take much more memory than its own size once it is
// read: nested too deep, an object of hundreds of members, or a swarm of tiny values.
// It looks at brackets, commas and quotes alone: whether the JSON is right, the parser
// says. It takes time in proportion to the size and no memory.
func Bounded(data []byte) error {
	if !utf8.Valid(data) {
		return Problems{{"", "the file is not UTF-8 text; save it as UTF-8 JSON"}}
	}
	var object [mostDepth]bool
	var members [mostDepth]int
	depth, cost, most := 0, 0, costPerByte*len(data)+costAnyway
	refuse := func(at int, format string, args ...any) error {
		line, col := position(data, int64(at)+1)
		return Problems{{"", fmt.Sprintf("at line %d, column %d: ", line, col) + fmt.Sprintf(format, args...)}}
	}
	for i := 0; i < len(data); i++ {
		switch data[i] {
		case '"':
			for i++; i < len(data) && data[i] != '"'; i++ {
				if data[i] == '\\' {
					i++
				}
			}
		case '{', '[':
			if depth == mostDepth {
				return refuse(i, "nested more than %d deep. Check that it is the right file", mostDepth)
			}
			object[depth], members[depth] = data[i] == '{', 0
			depth++
			cost += listCost
			if data[i] == '{' {
				cost += objectCost - listCost + memberCost
			}
			cost += scalarCost // of its first entry
		case '}', ']':
			depth = max(0, depth-1)
		case ',':
			cost += scalarCost
			if depth == 0 || !object[depth-1] {
				break
			}
			cost += memberCost
			if members[depth-1]++; members[depth-1] >= mostMembers {
				return refuse(i, "an object with more than %d fields. Check that it is the right file", mostMembers)
			}
		}
		if cost > most {
			return refuse(i, "too many values for a document of this size. Check that it is the right file")
		}
	}
	return nil
}

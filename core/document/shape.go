// Package document is how Grapnel's open JSON documents are described, checked
// and published: one list of fields, ranges and vocabularies for each document,
// which the decoder walks and the JSON Schema is written from.
package document

// Shape describes one place in a document: what may stand there.
type Shape struct {
	Kind      string // object, variant, list, number, integer, text, flag, month, date, time
	Unit      string
	Min, Max  float64  // of a number, of a list's length, or the most letters of a text when Max > 0
	Words     []string // the only texts, or numbers, allowed
	Fields    map[string]Shape
	Need      []string // fields that must stand in an object
	Item      *Shape
	Null      bool // null counts as left out
	Unbounded bool // a figure of any size
	Doc       string

	// A variant is an object whose other fields depend on the text in field By;
	// What names such an object in errors.
	By       string
	What     string
	Variants map[string]Shape
	Common   map[string]Shape // fields any variant may carry
}

// Number is a figure in a range. It may be null, which counts as left out.
func Number(min, max float64, unit string) Shape {
	return Shape{Kind: "number", Min: min, Max: max, Unit: unit, Null: true}
}

// Words is one of a few texts.
func Words(w ...string) Shape { return Shape{Kind: "text", Words: w} }

// Text is free text of at most so many characters.
func Text(most float64) Shape { return Shape{Kind: "text", Max: most} }

// List is from min to max entries of one shape.
func List(min, max float64, of Shape) Shape {
	return Shape{Kind: "list", Min: min, Max: max, Item: &of}
}

// Flag is true or false.
func Flag() Shape { return Shape{Kind: "flag"} }

// Object is a group of fields, some of them needed.
func Object(need []string, fields map[string]Shape) Shape {
	return Shape{Kind: "object", Need: need, Fields: fields}
}

// of gives the whole object that a variant's word stands for.
func (s Shape) of(word string) (Shape, bool) {
	own, ok := s.Variants[word]
	if !ok {
		return Shape{}, false
	}
	all := map[string]Shape{s.By: Words(word)}
	for _, m := range []map[string]Shape{s.Common, own.Fields} {
		for name, f := range m {
			all[name] = f
		}
	}
	return Object(own.Need, all), true
}

// About gives the shape with what it means, for the published schema.
func (s Shape) About(doc string) Shape {
	s.Doc = doc
	return s
}

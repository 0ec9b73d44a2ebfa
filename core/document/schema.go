package document

import "strings"

// Schema gives the JSON Schema (2020-12) of a document, written from the same
// list of fields and ranges that Decode enforces.
func Schema(format string, s Shape) map[string]any {
	out := schemaOf(s)
	out["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	out["title"] = format
	return out
}

func schemaOf(s Shape) map[string]any {
	out := map[string]any{}
	switch s.Kind {
	case "object":
		props := map[string]any{}
		for name, f := range s.Fields {
			props[name] = schemaOf(f)
		}
		out["type"], out["properties"], out["additionalProperties"] = "object", props, false
		if len(s.Need) > 0 {
			out["required"] = s.Need
		}
	case "variant":
		var any []any
		for _, word := range sorted(s.Variants) {
			whole, _ := s.of(word)
			whole.Need = append([]string{s.By}, whole.Need...)
			any = append(any, schemaOf(whole))
		}
		out["oneOf"] = any
	case "list":
		out["type"], out["items"], out["minItems"], out["maxItems"] = "array", schemaOf(*s.Item), s.Min, s.Max
	case "number", "integer":
		out["type"] = s.Kind
		if len(s.Words) > 0 {
			out["description"] = "one of " + strings.Join(s.Words, ", ") + " " + s.Unit
		} else if !s.Unbounded {
			out["minimum"], out["maximum"] = s.Min, s.Max
		}
		if s.Unit != "" && len(s.Words) == 0 {
			out["description"] = s.Unit
		}
	case "flag":
		out["type"] = "boolean"
	case "month":
		out["type"], out["pattern"] = "string", month.String()
	case "date":
		out["type"], out["format"] = "string", "date"
	case "time":
		out["type"], out["format"] = "string", "date-time"
	default:
		out["type"] = "string"
		if len(s.Words) > 0 {
			out["enum"] = s.Words
		}
		if s.Max > 0 {
			out["maxLength"] = s.Max
		}
	}
	if s.Null {
		out["type"] = []any{out["type"], "null"}
	}
	if s.Doc != "" {
		out["description"] = s.Doc
	}
	return out
}

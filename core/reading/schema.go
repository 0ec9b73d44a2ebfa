package reading

import "strings"

// Schema gives the JSON Schema (2020-12) of grapnel.case/1, written from the
// same list of fields and ranges that Decode enforces.
func Schema() map[string]any {
	s := schemaOf(caseShape)
	s["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	s["title"] = CaseFormat
	return s
}

func schemaOf(s shape) map[string]any {
	out := map[string]any{}
	switch s.kind {
	case "object":
		props := map[string]any{}
		for name, f := range s.fields {
			props[name] = schemaOf(f)
		}
		out["type"], out["properties"], out["additionalProperties"] = "object", props, false
		if len(s.need) > 0 {
			out["required"] = s.need
		}
	case "reading":
		var any []any
		for _, kind := range sorted(kinds) {
			own := kinds[kind]
			all := map[string]shape{"kind": words(kind)}
			for _, m := range []map[string]shape{common, own.fields} {
				for name, f := range m {
					all[name] = f
				}
			}
			any = append(any, schemaOf(object(append([]string{"kind"}, own.need...), all)))
		}
		out["oneOf"] = any
	case "list":
		out["type"], out["items"], out["minItems"], out["maxItems"] = "array", schemaOf(*s.item), s.min, s.max
	case "number", "integer":
		out["type"] = s.kind
		if len(s.words) > 0 {
			out["description"] = "one of " + strings.Join(s.words, ", ") + " " + s.unit
		} else {
			out["minimum"], out["maximum"] = s.min, s.max
		}
		if s.unit != "" && len(s.words) == 0 {
			out["description"] = s.unit
		}
	case "flag":
		out["type"] = "boolean"
	case "month":
		out["type"], out["pattern"] = "string", month.String()
	case "time":
		out["type"], out["format"] = "string", "date-time"
	default:
		out["type"] = "string"
		if len(s.words) > 0 {
			out["enum"] = s.words
		}
		if s.max > 0 {
			out["maxLength"] = s.max
		}
	}
	if s.null {
		out["type"] = []any{out["type"], "null"}
	}
	if s.doc != "" {
		out["description"] = s.doc
	}
	return out
}

package api

import (
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/words"
)

// Types of core that are published as core describes them, not as their Go fields
// happen to look: one list of fields, words and ranges serves documents and HTTP
// alike.
type (
	vehicleDoc    struct{}
	batteryDoc    struct{}
	conditionsDoc struct{}
	readingDoc    struct{}
	rulesDoc      struct{}
	levelDoc      struct{}
)

func (vehicleDoc) Schema(r huma.Registry) *huma.Schema {
	return named(r, "Vehicle", reading.VehicleShape())
}
func (batteryDoc) Schema(r huma.Registry) *huma.Schema {
	s := reading.BatteryShape()
	s.Need = append(s.Need, "rating") // a job always has one, be it empty
	return named(r, "Battery", s)
}
func (readingDoc) Schema(r huma.Registry) *huma.Schema { return named(r, "Reading", station.Shape()) }
func (rulesDoc) Schema(r huma.Registry) *huma.Schema   { return named(r, "Rules", rules.Shape(true)) }
func (conditionsDoc) Schema(r huma.Registry) *huma.Schema {
	return named(r, "Conditions", reading.ConditionsShape())
}
func (levelDoc) Schema(r huma.Registry) *huma.Schema {
	return named(r, "Level", document.Words(bench.Levels()...).About("how much it matters, mildest first"))
}

// describeCore makes a registry publish the types of core as core describes them.
func describeCore(r huma.Registry) {
	for t, doc := range map[reflect.Type]reflect.Type{
		reflect.TypeFor[reading.Vehicle]():    reflect.TypeFor[vehicleDoc](),
		reflect.TypeFor[reading.Battery]():    reflect.TypeFor[batteryDoc](),
		reflect.TypeFor[reading.Conditions](): reflect.TypeFor[conditionsDoc](),
		reflect.TypeFor[reading.Reading]():    reflect.TypeFor[readingDoc](),
		reflect.TypeFor[rules.Rules]():        reflect.TypeFor[rulesDoc](),
		reflect.TypeFor[bench.Level]():        reflect.TypeFor[levelDoc](),
		reflect.TypeFor[words.Text]():         reflect.TypeFor[string](),
	} {
		r.RegisterTypeAlias(t, doc)
	}
}

// named puts a shape among the schemas once and gives the way to it.
func named(r huma.Registry, name string, s document.Shape) *huma.Schema {
	if r.Map()[name] == nil {
		schema := schemaOf(s)
		schema.PrecomputeMessages()
		r.Map()[name] = schema
	}
	return &huma.Schema{Ref: "#/components/schemas/" + name}
}

// schemaOf describes a shape for HTTP. Ranges stand in the description alone, so
// that core refuses a figure out of range, in its own words.
func schemaOf(s document.Shape) *huma.Schema {
	out := &huma.Schema{Type: huma.TypeString, Description: s.Doc}
	switch s.Kind {
	case "object":
		out.Type, out.Properties, out.Required, out.AdditionalProperties = huma.TypeObject, map[string]*huma.Schema{}, s.Need, false
		for name, f := range s.Fields {
			out.Properties[name] = schemaOf(f)
		}
	case "variant":
		// One object with the fields of all kinds: what a kind may carry is core's to
		// say, in words that name the field.
		return schemaOf(merged(s))
	case "list":
		out.Type, out.Items = huma.TypeArray, schemaOf(*s.Item)
	case "number", "integer":
		out.Type = s.Kind
		for _, w := range s.Words {
			v, _ := strconv.ParseFloat(w, 64)
			out.Enum = append(out.Enum, v)
		}
		out.Description = strings.TrimPrefix(out.Description+"; "+rangeOf(s), "; ")
	case "flag":
		out.Type = huma.TypeBoolean
	case "time":
		out.Format = "date-time"
	default:
		for _, w := range s.Words {
			out.Enum = append(out.Enum, w)
		}
	}
	return out
}

func rangeOf(s document.Shape) string {
	if len(s.Words) > 0 || s.Unbounded {
		return s.Unit
	}
	return strings.TrimSpace(fmt.Sprintf("%g to %g %s", s.Min, s.Max, s.Unit))
}

// merged gives one object with the fields of every variant.
func merged(s document.Shape) document.Shape {
	all := map[string]document.Shape{}
	for name, f := range s.Common {
		all[name] = f
	}
	for _, kind := range slices.Sorted(maps.Keys(s.Variants)) {
		for name, f := range s.Variants[kind].Fields {
			if old, ok := all[name]; ok {
				f = joined(old, f)
			}
			f.Min, f.Max, f.Unbounded = 0, 0, f.Kind == "number" || f.Kind == "integer"
			all[name] = f
		}
	}
	all[s.By] = document.Words(slices.Sorted(maps.Keys(s.Variants))...)
	return document.Object([]string{s.By}, all)
}

// joined allows the words of both of two fields of one name.
func joined(a, b document.Shape) document.Shape {
	b.Words = union(a.Words, b.Words)
	if a.Item != nil && b.Item != nil {
		item := joined(*a.Item, *b.Item)
		b.Item = &item
	}
	return b
}

func union(a, b []string) []string {
	out := append([]string{}, a...)
	for _, w := range b {
		if !slices.Contains(out, w) {
			out = append(out, w)
		}
	}
	return out
}

package rules

import (
	"maps"
	"reflect"
	"slices"

	"grapnel/core/measure"
	"grapnel/core/words"
)

// Change is one rule settled otherwise than before.
type Change struct {
	Rule  string `json:"rule" doc:"its title"`
	Class string `json:"class,omitempty" doc:"the class of vehicle it is for; absent for all"`
	// What it was and what it is, by the name of the school or as a figure.
	From words.Text `json:"from"`
	To   words.Text `json:"to"`
}

// Changes tells what differs between two sets of rules, in the order of the book,
// all vehicles before single classes.
func Changes(from, to Rules) []Change {
	var out []Change
	all := append([]string{""}, slices.Collect(maps.Keys(from.ByClass))...)
	all = append(all, slices.Collect(maps.Keys(to.ByClass))...)
	slices.Sort(all)
	for _, class := range slices.Compact(all) {
		for _, rule := range book {
			was, is := rule.at(from, class), rule.at(to, class)
			if !reflect.DeepEqual(was, is) {
				out = append(out, Change{rule.Title, class, rule.name(was), rule.name(is)})
			}
		}
	}
	return out
}

// at gives the value that is settled for a class, nil where it is as for all; for
// no class, the value for all.
func (rule *Rule) at(r Rules, class string) any {
	switch {
	case class != "":
		return r.ByClass[class][rule.Field]
	case rule.number != nil:
		return *rule.number(&r)
	}
	return *rule.word(&r)
}

// name calls a value by its school.
func (rule *Rule) name(value any) words.Text {
	if value == nil {
		return words.Say("as for all")
	}
	figure, _ := value.(float64)
	for _, s := range rule.Schools {
		if s.value() == value {
			if rule.number == nil {
				return words.Say(s.Name)
			}
			return words.Say("{school} ({figure})", "school", s.Name, "figure", measure.Of(figure, measure.Unit(rule.Unit), measure.Exact))
		}
	}
	return words.Say("{figure}", "figure", measure.Of(figure, measure.Unit(rule.Unit), measure.Exact))
}

// Said is a house rule as it was settled, for people.
type Said struct {
	Rule string     `json:"rule" doc:"its title"`
	Says words.Text `json:"says" doc:"the school, or the figure"`
}

// Said tells how some rules are settled, by their ids, in the order they are asked for; ids of
// no house rule are left out.
func (r Rules) Said(ids ...string) []Said {
	out := []Said{}
	for _, id := range ids {
		if rule, ok := Find(id); ok && !slices.ContainsFunc(out, func(s Said) bool { return s.Rule == rule.Title }) {
			out = append(out, Said{rule.Title, rule.name(rule.at(r, ""))})
		}
	}
	return out
}

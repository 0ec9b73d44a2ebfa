package files

import (
	"errors"
	"fmt"
	"io"
	"strings"

	"grapnel/core/document"
	"grapnel/core/fit"
)

var stock = table{need: []string{"tag", "chemistry"}, each: "battery", thing: "battery", most: fit.MostStock,
	full: fmt.Sprintf("more than %d batteries; a shelf holds no more. Part the file", fit.MostStock),
	columns: []column{
		{name: "tag", path: []string{"tag"}}, {name: "chemistry", path: []string{"chemistry"}}, {name: "volts",
			path: []string{"volts"}, figure: true},
		{
			name:   "cca",
			path:   []string{"rating", "cca"},
			figure: true,
		}, {name: "standard", path: []string{"rating", "standard"}},
		{
			name:   "ah_20h",
			path:   []string{"rating", "ah_20h"},
			figure: true,
		}, {name: "rc_min", path: []string{"rating", "rc_min"},
			figure: true},
		{name: "ca", path: []string{"rating", "ca"}, figure: true}, {name: "charge_amps",
			path: []string{"rating", "charge_amps"}, figure: true},
		{
			name: "group",
			path: []string{"group"},
		}, {name: "length_mm", path: []string{"size_mm"}, figure: true, index: 1},
		{
			name:   "width_mm",
			path:   []string{"size_mm"},
			figure: true,
			index:  2,
		}, {name: "height_mm", path: []string{"size_mm"},
			figure: true, index: 3},
		{
			name: "hold_down",
			path: []string{"hold_down"},
		}, {name: "positive", path: []string{"positive"}}, {name: "terminals",
			path: []string{"terminals"}},
		{name: "vent", path: []string{"vent"}}, {name: "made", path: []string{"made"}}, {name: "dry_charged",
			path: []string{"dry_charged"}, flag: true},
		{name: "rest_volts", path: []string{"tested", "rest_volts"}, figure: true}, {name: "battery_c",
			path: []string{"tested", "battery_c"}, figure: true},
		{name: "found_cca", path: []string{"tested", "cca"}, figure: true}, {name: "found_standard",
			path: []string{"tested", "standard"}},
		{name: "tested_on", path: []string{"tested", "on"}}, {name: "verdict", path: []string{"tested", "verdict"}},
	}}

// StockColumns gives the names of the columns, in the order they are written.
func StockColumns() []string { return stock.names() }

// WriteStock writes batteries of the shelf as a table after RFC 4180.
func WriteStock(to io.Writer, items []fit.Item) error {
	docs := make([]any, len(items))
	for i := range items {
		docs[i] = items[i]
	}
	return stock.write(to, docs)
}

// ReadStock reads batteries of the shelf from a table. On anything wrong it gives a
// document.Problems error that names line and column, and nothing else.
func ReadStock(data []byte) ([]fit.Item, error) {
	items, tags := []fit.Item{}, map[string]int{}
	err := stock.read(data, func(line int, raw []byte) document.Problems {
		item, err := fit.DecodeItem(raw)
		var wrong document.Problems
		if errors.As(err, &wrong) {
			return wrong
		}
		tag := strings.ToLower(item.Tag)
		if first, twice := tags[tag]; twice {
			return document.Problems{
				{Path: "tag", Message: fmt.Sprintf("%s stands in line %d already", document.Quote(item.Tag), first)},
			}
		}
		tags[tag] = line
		items = append(items, item)
		return nil
	})
	if err != nil {
		return nil, err
	}
	return items, nil
}

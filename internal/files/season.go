package files

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"grapnel/core/climate"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/season"
)

// MostWeather is how many days a table of weather may have.
const MostWeather = 900

var weather = table{need: []string{"date", "low_c"}, each: "day", thing: "day", most: MostWeather,
	full: fmt.Sprintf("more than %d days. Part the file", MostWeather),
	columns: []column{{name: "date", path: []string{"date"}}, {name: "low_c", path: []string{"low_c"}, figure: true},
		{name: "mean_c", path: []string{"mean_c"}, figure: true}}}

// ReadWeather reads days, as they were or are forecast, from a table of date, low_c and
// mean_c. On anything wrong it gives a document.Problems error that names line and column.
func ReadWeather(data []byte) ([]climate.Weather, error) {
	var days []climate.Weather
	lines := map[string]int{}
	err := weather.read(data, func(line int, raw []byte) document.Problems {
		var d climate.Weather
		if err := document.Decode(raw, "day", climate.WeatherShape(), &d); err != nil {
			var wrong document.Problems
			if errors.As(err, &wrong) {
				return wrong
			}
			return document.Problems{{Message: err.Error()}}
		}
		if first, twice := lines[d.Date]; twice {
			return document.Problems{
				{Path: "date", Message: fmt.Sprintf("%s stands in line %d already", d.Date, first)},
			}
		}
		lines[d.Date] = line
		days = append(days, d)
		return nil
	})
	if err != nil {
		return nil, err
	}
	return days, nil
}

var months = table{
	need:  []string{"month", "mean_c", "low_c"},
	each:  "month",
	thing: "month",
	most:  12,
	full:  "more than twelve months",
	columns: []column{
		{name: "month", path: []string{"month"}, figure: true},
		{name: "mean_c", path: []string{"mean_c"}, figure: true},
		{name: "low_c", path: []string{"low_c"}, figure: true},
	},
}

// ReadClimate reads the months of a place from a table of month (1 to 12), mean_c and low_c.
// On anything wrong it gives a document.Problems error that names line and column.
func ReadClimate(data []byte) (climate.Of, error) {
	var o climate.Of
	seen := map[int]bool{}
	figure := document.Number(climate.Lowest, climate.Highest, "°C")
	shape := document.Object([]string{"month", "mean_c", "low_c"}, map[string]document.Shape{
		"month": {Kind: "integer", Min: 1, Max: 12}, "mean_c": figure, "low_c": figure})
	err := months.read(data, func(_ int, raw []byte) document.Problems {
		var m struct {
			Month int     `json:"month"`
			Mean  float64 `json:"mean_c"`
			Low   float64 `json:"low_c"`
		}
		if err := document.Decode(raw, "month", shape, &m); err != nil {
			var wrong document.Problems
			if errors.As(err, &wrong) {
				return wrong
			}
			return document.Problems{{Message: err.Error()}}
		}
		if seen[m.Month] {
			return document.Problems{{Path: "month", Message: fmt.Sprintf("%d stands twice", m.Month)}}
		}
		seen[m.Month] = true
		o.Mean[m.Month-1], o.Low[m.Month-1] = m.Mean, m.Low
		return nil
	})
	if err != nil {
		return o, err
	}
	for month := 1; month <= 12; month++ {
		if !seen[month] {
			return o, document.Problems{
				{Path: "column month", Message: fmt.Sprintf("%d is missing: all twelve are needed", month)},
			}
		}
	}
	if err := o.Check(); err != nil {
		return o, document.Problems{{Message: err.Error()}}
	}
	return o, nil
}

func at(name string, path ...string) column { return column{name: name, path: path} }

func figureAt(name string, path ...string) column {
	return column{name: name, path: path, figure: true}
}

var lot = table{need: []string{"chemistry"}, each: "battery", thing: "battery", most: season.MostStored,
	full: fmt.Sprintf("more than %d batteries; no more stand at a time. Part the file", season.MostStored),
	columns: []column{
		at("tag", "battery", "tag"),
		at("vehicle", "vehicle", "name"),
		at("class", "vehicle", "class"),
		at("fuel", "vehicle", "fuel"),
		at(
			"chemistry",
			"battery",
			"chemistry",
		),
		figureAt("cca", "battery", "rating", "cca"),
		at("standard", "battery", "rating", "standard"),
		figureAt(
			"ah_20h",
			"battery",
			"rating",
			"ah_20h",
		),
		at("lot", "lot"),
		at("row", "row"),
		figureAt("bay", "bay"),
		at("promised", "promised"),
		at(
			"arrived",
			"arrived",
		),
		figureAt("soc_pct", "start", "soc_pct"),
		figureAt("drain_ma", "drain_ma"),
		at("from", "from"),
		at("to", "to"),
		at("way", "way"),
		at("note", "note"),
	}}

// WriteLot writes what stands as a table after RFC 4180.
func WriteLot(to io.Writer, all []season.Stored) error {
	docs := make([]any, len(all))
	for i := range all {
		docs[i] = all[i]
	}
	return lot.write(to, docs)
}

// ReadLot reads batteries that are put away from a table. What a line leaves out is as usual:
// the class a car, the season from and to as given, full, left connected. On anything wrong
// it gives a document.Problems error that names line and column.
func ReadLot(data []byte, usual season.Stored) ([]season.Stored, error) {
	out := []season.Stored{}
	tags := map[string]int{}
	err := lot.read(data, func(line int, raw []byte) document.Problems {
		d, err := season.DecodeStored(filled(raw, usual))
		var wrong document.Problems
		if errors.As(err, &wrong) {
			return wrong
		}
		if tag := strings.ToLower(d.Battery.Tag); tag != "" {
			if first, twice := tags[tag]; twice {
				return document.Problems{
					{
						Path:    "battery.tag",
						Message: fmt.Sprintf("%s stands in line %d already", document.Quote(d.Battery.Tag), first),
					},
				}
			}
			tags[tag] = line
		}
		out = append(out, d)
		return nil
	})
	if err != nil {
		return nil, err
	}
	return out, nil
}

// filled puts what is usual into a line that leaves it out.
func filled(raw []byte, usual season.Stored) []byte {
	var doc map[string]any
	if json.Unmarshal(raw, &doc) != nil {
		return raw
	}
	put := func(into map[string]any, name string, v any) {
		if _, ok := into[name]; !ok {
			into[name] = v
		}
	}
	for _, name := range []string{"vehicle", "battery", "start"} {
		put(doc, name, map[string]any{})
	}
	vehicle, start := doc["vehicle"].(map[string]any), doc["start"].(map[string]any)
	put(vehicle, "class", reading.Classes().Codes()[0])
	put(start, "soc_pct", usual.Start.SOCPct)
	put(doc, "from", usual.From)
	put(doc, "to", usual.To)
	put(doc, "way", usual.Way)
	put(doc, "lot", usual.Lot)
	put(doc, "at_hand", usual.AtHand)
	out, err := json.Marshal(doc)
	if err != nil {
		return raw
	}
	return out
}

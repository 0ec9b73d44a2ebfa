// Plots draws the pictures of docs/model.md with the battery model itself.
package main

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"

	"grapnel/core/battery"
	"grapnel/core/rating"
)

const hour, day = 3600.0, 86400.0

func main() {
	dir := flag.String("out", "docs/plots", "folder to write to")
	flag.Parse()
	for name, draw := range map[string]func() chart{
		"rest": rest, "surface": surface, "freeze": freeze, "crank": crank, "cold": cold, "lenient": lenient,
		"charge": charge, "refusal": refusal, "storage": storage,
	} {
		if err := draw().write(filepath.Join(*dir, name+".svg")); err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
	}
}

// car is the battery of most pictures: 540 CCA, 75 min, 48 Ah.
func car(c battery.Chemistry) battery.Battery {
	b, _, err := battery.FromLabel(c, 6, rating.Label{CCA: 540, RCMin: 75, Ah20h: 48})
	return of(b, err)
}

// of gives a figure of a battery that cannot fail.
func of[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

// follow runs a duty and takes a figure at each step of it.
func follow(
	b battery.Battery,
	s battery.State,
	d battery.Duty,
	unit float64,
	y func(battery.Sample) float64,
) (xs, ys []float64) {
	d.Tolerance = 1e-5 // many steps, for a smooth line
	d.Visit = func(x battery.Sample) error {
		xs, ys = append(xs, x.Seconds/unit), append(ys, y(x))
		return nil
	}
	if _, err := b.Run(s, d); err != nil {
		panic(err)
	}
	return xs, ys
}

// over takes a figure over a range.
func over(from, to, step float64, y func(float64) float64) (xs, ys []float64) {
	for x := from; x <= to+1e-9; x += step {
		xs, ys = append(xs, x), append(ys, y(x))
	}
	return xs, ys
}

func volts(s battery.Sample) float64 { return s.Volts }

func rest() chart {
	c := chart{
		title: "Rest volts over charge, 25 °C",
		x:     "charge, %",
		y:     "volts",
		xTo:   100,
		yFrom: 11.8,
		yTo:   13,
		xStep: 25,
		yStep: 0.2,
	}
	for _, l := range []struct {
		chem   battery.Chemistry
		word   string
		colour string
	}{{battery.Flooded, "flooded", copper}, {battery.FloodedSealed, "calcium, EFB", slate}, {battery.AGM, "AGM, gel",
		verdigris}} {
		xs, ys := over(0, 100, 1, func(soc float64) float64 { return battery.RestVolts(l.chem, 6, soc, 25) })
		c.lines = append(c.lines, curve{word: l.word, colour: l.colour, xs: xs, ys: ys})
	}
	c.lines = append(c.lines, curve{word: "BCI table", colour: ink, dash: "2 5", at: 0.5, dy: 26,
		xs: []float64{0, 25, 50, 75, 100}, ys: []float64{11.89, 12.06, 12.24, 12.45, 12.65}})
	return c
}

func surface() chart {
	c := chart{
		title: "Surface charge after half an hour's drive and after a full charge, 20 °C",
		x:     "minutes after the engine stops",
		y:     "volts",
		xTo:   60,
		yFrom: 12.4,
		yTo:   14,
		xStep: 10,
		yStep: 0.2,
	}
	b := car(battery.Flooded)
	around := battery.Ambient{Start: 20}
	end, err := b.Run(
		b.Rested(70, 20),
		battery.Duty{Source: battery.Source{Amps: 40, Volts: 14.3}, Ambient: around, Seconds: 1800},
	)
	if err != nil {
		panic(err)
	}
	for _, l := range []struct {
		word    string
		colour  string
		amps    float64
		seconds float64
		dy      float64
	}{{"left alone", slate, 0, 0, -9}, {"lights 2 min", copper, -10, 120, 2}, {"300 A for 15 s", verdigris, -300, 15,
		13}} {
		s := end.State
		var xs, ys []float64
		if l.seconds > 0 {
			xs, ys = follow(
				b,
				s,
				battery.Duty{Source: battery.Source{Amps: l.amps}, Ambient: around, Seconds: l.seconds},
				60,
				volts,
			)
			last, _ := b.Run(s, battery.Duty{Source: battery.Source{Amps: l.amps}, Ambient: around, Seconds: l.seconds})
			s = last.State
		}
		more, volt := follow(b, s, battery.Duty{Ambient: around, Seconds: 3600 - l.seconds}, 60, volts)
		for i := range more {
			xs, ys = append(xs, more[i]+l.seconds/60), append(ys, volt[i])
		}
		c.lines = append(c.lines, curve{word: l.word, colour: l.colour, xs: xs, ys: ys, dy: l.dy})
	}
	full, err := b.Run(
		b.Rested(70, 20),
		battery.Duty{Source: battery.Source{Amps: 10, Volts: 14.5}, Ambient: around, Seconds: 12 * hour},
	)
	if err != nil {
		panic(err)
	}
	xs, ys := follow(b, full.State, battery.Duty{Ambient: around, Seconds: hour}, 60, volts)
	c.lines = append(c.lines, curve{word: "after a full charge", colour: mud, xs: xs, ys: ys, at: 0.42})
	c.marks = []mark{{battery.RestVolts(battery.Flooded, 6, end.SOC, 20), ""}}
	return c
}

func freeze() chart {
	c := chart{
		title:  "Freezing point of the acid",
		x:      "specific gravity at 26.7 °C",
		y:      "°C",
		xFrom:  1,
		xTo:    1.3,
		yFrom:  -80,
		yTo:    0,
		xStep:  0.05,
		yStep:  10,
		scaleX: func(v float64) string { return fmt.Sprintf("%.2f", v) },
	}
	xs, ys := over(1, 1.3, 0.002, battery.FreezingPoint)
	c.lines = []curve{{word: "", colour: slate, xs: xs, ys: ys}}
	for _, soc := range []float64{0, 25, 50, 75, 100} {
		sg := battery.SpecificGravity(battery.Flooded, soc)
		c.marks = append(c.marks, mark{battery.FreezingPoint(sg), fmt.Sprintf("%.0f %% charged", soc)})
	}
	return c
}

func crank() chart {
	c := chart{
		title: "Cranking at the label's 540 A, full",
		x:     "seconds",
		y:     "volts",
		xTo:   30,
		yFrom: 6,
		yTo:   12,
		xStep: 5,
		yStep: 1,
		marks: []mark{{7.2, "7.2 V, SAE"}},
	}
	b := car(battery.Flooded)
	for _, l := range []struct {
		temp   float64
		colour string
		dy     float64
	}{{27, copper, 0}, {0, verdigris, 0}, {-18, slate, 14}} {
		xs, ys := follow(
			b,
			b.Rested(100, l.temp),
			battery.Duty{
				Source:  battery.Source{Amps: -540, Volts: -100},
				Ambient: battery.Ambient{Start: l.temp},
				Seconds: 30,
			},
			1,
			volts,
		)
		c.lines = append(c.lines, curve{word: plain(l.temp) + " °C", colour: l.colour, xs: xs, ys: ys, dy: l.dy})
	}
	return c
}

func cold() chart {
	c := chart{
		title: "Cranking amps, 30 s to 7.2 V, of the full battery at 27 °C",
		x:     "temperature, °C",
		y:     "%",
		xFrom: -30,
		xTo:   30,
		yTo:   120,
		xStep: 10,
		yStep: 20,
	}
	b := car(battery.Flooded)
	warm := of(b.CrankingAmps(100, 27, 30, 7.2))
	for _, l := range []struct {
		soc    float64
		colour string
	}{{100, copper}, {75, mud}, {50, slate}} {
		xs, ys := over(-30, 30, 1.5, func(t float64) float64 { return 100 * of(b.CrankingAmps(l.soc, t, 30, 7.2)) / warm })
		c.lines = append(c.lines, curve{word: fmt.Sprintf("%.0f %% charged", l.soc), colour: l.colour, xs: xs, ys: ys})
	}
	c.lines = append(
		c.lines,
		curve{
			word:   "service texts",
			colour: ink,
			dash:   "2 5",
			at:     0.5,
			dy:     -6,
			xs:     []float64{-18, 0, 27},
			ys:     []float64{40, 65, 100},
		},
	)
	return c
}

func lenient() chart {
	c := chart{
		title: "Half the CCA for 15 s: volts over the strength that is left, full",
		x:     "cranking left, % of the label",
		y:     "volts at the 15th second",
		xFrom: 40,
		xTo:   100,
		yFrom: 7,
		yTo:   11,
		xStep: 10,
		yStep: 1,
	}
	b := car(battery.Flooded)
	for _, l := range []struct {
		temp   float64
		colour string
	}{{21, copper}, {-1, verdigris}, {-18, slate}} {
		xs, ys := over(40, 100, 2, func(part float64) float64 { return of(of(b.Worn(part)).EndVolts(100, l.temp, 270, 15)) })
		c.lines = append(c.lines, curve{word: plain(l.temp) + " °C", colour: l.colour, xs: xs, ys: ys})
		limit := rating.LoadTestLimit(12, l.temp)
		c.lines = append(
			c.lines,
			curve{
				word:   fmt.Sprintf("limit %.1f", limit),
				colour: l.colour,
				dash:   "2 4",
				at:     0.05,
				dy:     2,
				xs:     []float64{40, 45, 100},
				ys:     []float64{limit, limit, limit},
			},
		)
	}
	return c
}

func charge() chart {
	c := chart{
		title: "A day on a 10 A charger at 14.6 V, from 20 %, 20 °C",
		x:     "hours",
		y:     "%, A, (V − 12) × 10",
		xTo:   12,
		yTo:   100,
		xStep: 2,
		yStep: 20,
	}
	b := car(battery.Flooded)
	d := battery.Duty{
		Source:  battery.Source{Amps: 10, Volts: 14.6},
		Ambient: battery.Ambient{Start: 20},
		Seconds: 12 * hour,
	}
	for _, l := range []struct {
		word, colour string
		y            func(battery.Sample) float64
	}{
		{"charge, %", verdigris, func(s battery.Sample) float64 { return s.SOC }},
		{"(V − 12) × 10", slate, func(s battery.Sample) float64 { return 10 * (s.Volts - 12) }},
		{"amps", copper, func(s battery.Sample) float64 { return s.Amps }},
	} {
		xs, ys := follow(b, b.Rested(20, 20), d, hour, l.y)
		c.lines = append(c.lines, curve{word: l.word, colour: l.colour, xs: xs, ys: ys})
	}
	return c
}

func refusal() chart {
	c := chart{
		title: "Flat for two months, then on a 5 A charger",
		x:     "hours",
		y:     "amps that charge",
		xTo:   18,
		yTo:   6,
		xStep: 2,
		yStep: 1,
	}
	b := car(battery.Flooded)
	stood, err := b.Run(b.Rested(5, 20), battery.Duty{Ambient: battery.Ambient{Start: 20}, Seconds: 60 * day})
	if err != nil {
		panic(err)
	}
	for _, l := range []struct {
		word   string
		colour string
		s      battery.State
		volts  float64
		at     float64
	}{{"only flat", soft, b.Rested(5, 20), 14.5, 0.04}, {"up to 16 V and more", copper, stood.State, 18,
		0.25}, {"held to 14.5 V", slate, stood.State, 14.5, 0}} {
		xs, ys := follow(
			b,
			l.s,
			battery.Duty{
				Source:  battery.Source{Amps: 5, Volts: l.volts},
				Ambient: battery.Ambient{Start: 20},
				Seconds: 18 * hour,
			},
			hour,
			func(s battery.Sample) float64 { return s.Amps - s.GasAmps },
		)
		c.lines = append(c.lines, curve{word: l.word, colour: l.colour, xs: xs, ys: ys, at: l.at, dy: -2})
	}
	return c
}

func storage() chart {
	c := chart{
		title: "On the shelf, nothing connected",
		x:     "days",
		y:     "charge, %",
		xTo:   360,
		yFrom: 0,
		yTo:   100,
		xStep: 60,
		yStep: 20,
		marks: []mark{{50, ""}},
	}
	for _, l := range []struct {
		chem   battery.Chemistry
		temp   float64
		word   string
		colour string
		dash   string
		dy     float64
	}{
		{battery.AGM, 15, "AGM 15 °C", verdigris, "", -2}, {battery.AGM, 30, "AGM 30 °C", verdigris, "6 4", 4},
		{battery.FloodedSealed, 15, "calcium 15 °C", slate, "", -1}, {battery.FloodedSealed, 30, "calcium 30 °C",
			slate, "6 4", 0},
		{battery.Flooded, 15, "flooded 15 °C", copper, "", 0}, {battery.Flooded, 30, "flooded 30 °C", copper, "6 4", 0},
	} {
		b := car(l.chem)
		xs, ys := follow(
			b,
			b.Rested(100, l.temp),
			battery.Duty{Ambient: battery.Ambient{Start: l.temp}, Seconds: 360 * day},
			day,
			func(s battery.Sample) float64 { return s.SOC },
		)
		c.lines = append(c.lines, curve{word: l.word, colour: l.colour, dash: l.dash, xs: xs, ys: ys, dy: l.dy})
	}
	return c
}

// Package record keeps what Grapnel says of three thousand varied cases, so
// that no change of the judgement passes unseen: the cases come from a fixed
// seed, and what is said of them stands in testdata/record.txt. A change that is
// meant is written there by `make record`, and its diff shows what it did.
package record

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
)

// Count is how many cases the record holds.
const Count = 3000

type object = map[string]any

// Document is one generated grapnel.case/1 document. Replaced holds readings that
// were corrected: each key is the position in readings of the one that stands.
type Document struct {
	Case     []byte
	Replaced map[int]json.RawMessage
}

// Documents gives the cases, the same at every call: every class, chemistry,
// label, kind of reading, school and temperature, in the orders in which work is
// done and in orders in which it is not.
func Documents() []Document {
	rng := rand.New(rand.NewPCG(20, 26))
	out := make([]Document, Count)
	for i := range out {
		g := generator{Rand: rng}
		out[i] = g.document()
	}
	return out
}

type generator struct {
	*rand.Rand
	volts float64 // nominal, of the one battery
	cca   float64 // about what the label says, for loads that make sense
}

func pick[T any](g *generator, of ...T) T { return of[g.IntN(len(of))] }

func (g *generator) chance(p float64) bool { return g.Float64() < p }

// between gives a figure in a range with some decimals.
func (g *generator) between(low, high float64, digits int) float64 {
	p := math.Pow(10, float64(digits))
	return math.Round((low+(high-low)*g.Float64())*p) / p
}

func (g *generator) document() Document {
	class := pick(g, "car", "car", "van", "motorcycle", "atv", "mower", "tractor", "hybrid", "electric", "classic",
		"boat", "motorhome")
	vehicle := object{"class": class}
	g.volts = 12
	switch {
	case class == "classic" || g.chance(0.06):
		g.volts = pick(g, 6.0, 6, 8)
		vehicle["system_volts"] = g.volts
	case g.chance(0.04):
		vehicle["system_volts"], vehicle["arrangement"] = 24, "series"
	case g.chance(0.3):
		vehicle["system_volts"] = 12
	}
	if g.chance(0.15) {
		vehicle["earth"] = pick(g, "negative", "positive")
	}
	if g.chance(0.4) {
		vehicle["fuel"] = pick(g, "petrol", "diesel", "none")
	}
	if g.chance(0.1) {
		vehicle["high_voltage"] = true
	}
	if g.chance(0.2) {
		vehicle["stop_start"], vehicle["made_year"] = true, 2014+g.IntN(12)
	}
	if g.chance(0.1) && vehicle["arrangement"] == nil {
		vehicle["arrangement"] = pick(g, "single", "parallel")
	}
	doc := object{
		"format":     "grapnel.case/1",
		"vehicle":    vehicle,
		"battery":    g.battery(class),
		"conditions": g.conditions(),
	}
	if g.chance(0.6) {
		words := []string{
			"dead_silent",
			"single_click",
			"rapid_click",
			"slow_crank",
			"cranks_no_fire",
			"dim_lights",
			"cold_only",
			"after_standing",
			"frequent_jumps",
			"lights_left_on",
			"accessories_left_on",
			"short_trips",
			"aftermarket_fitted",
			"recent_battery",
			"recent_alternator",
			"warning_lights",
		}
		g.Shuffle(len(words), func(i, j int) { words[i], words[j] = words[j], words[i] })
		doc["complaint"] = words[:1+g.IntN(2)]
	}
	if g.chance(0.4) {
		doc["rules"] = g.rules()
	}
	readings := g.readings()
	doc["readings"] = readings
	d := Document{Replaced: map[int]json.RawMessage{}}
	for i := range readings {
		if g.chance(0.04) {
			d.Replaced[i] = compact(g.rest())
		}
	}
	d.Case = compact(doc)
	return d
}

func compact(v any) json.RawMessage {
	raw, err := json.Marshal(v)
	if err != nil {
		panic(fmt.Sprintf("a generated case does not marshal: %v", err))
	}
	return raw
}

func (g *generator) battery(class string) object {
	chem := pick(g, "flooded", "flooded", "flooded_sealed", "flooded_sealed", "efb", "agm", "agm", "gel",
		"agm_deep_cycle")
	g.cca = pick(g, 440.0, 540, 600, 650, 720, 850)
	ah := math.Round(g.cca / 10.5)
	switch class {
	case "motorcycle", "atv", "mower":
		g.cca = pick(g, 120.0, 180, 230, 300, 350)
		ah = math.Round(g.cca / 13)
	}
	rating := object{}
	switch k := g.IntN(20); {
	case k < 9:
		rating["cca"], rating["standard"], rating["ah_20h"] = g.cca, "SAE", ah
	case k < 11:
		rating["cca"], rating["standard"] = g.cca, pick(g, "EN", "DIN", "IEC", "JIS")
	case k < 13:
		rating["cca"], rating["rc_min"] = g.cca, math.Round(1.6*ah)
	case k < 14:
		rating["ca"], rating["ah_20h"] = math.Round(1.25*g.cca), ah
	case k < 15:
		rating["ah_20h"] = ah
	case k < 16:
		rating["rc_min"] = math.Round(1.6 * ah)
	case k < 17:
		rating["cca"], rating["ah_20h"] = g.cca, math.Max(1, math.Round(g.cca/pick(g, 1.5, 60)))
	case k < 19:
		rating["cca"], rating["ah_20h"], rating["typical"] = g.cca, ah, true
	}
	out := object{"chemistry": chem, "rating": rating}
	if g.chance(0.3) {
		out["caps"] = pick(g, "removable", "sealed")
		out["terminals"] = pick(g, "top", "side", "stud")
		out["eye"] = g.chance(0.5)
	}
	if g.chance(0.3) {
		out["made"], out["fitted"] = "2021-03", pick(g, "2021-05", "2025-01")
	}
	return out
}

func (g *generator) conditions() object {
	out := object{}
	mild := func() float64 {
		if g.chance(0.3) {
			return g.between(-35, 0, 0)
		}
		return g.between(-5, 42, 1)
	}
	t := mild()
	if g.chance(0.7) {
		out["ambient_c"] = t
	}
	if g.chance(0.6) {
		out["battery_c"] = math.Round(t + g.between(-6, 6, 0))
	}
	return out
}

func (g *generator) rules() object {
	out := object{}
	if g.chance(0.5) {
		out["load_test_min_soc_pct"] = pick(g, 65.0, 75, 80)
	}
	if g.chance(0.5) {
		out["load_test_limit"] = pick(g, "temperature_table", "fixed")
	}
	if g.chance(0.4) {
		out["starter_test_min_volts"] = pick(g, 9.6, 10, 9.2)
	}
	if g.chance(0.4) {
		out["rest_minutes"] = pick(g, 60.0, 480, 30)
	}
	if g.chance(0.4) {
		out["return_min_soc_pct"] = pick(g, 90.0, 75, 100)
	}
	return out
}

// readings gives them in the order of a job, in any order, or none.
func (g *generator) readings() []object {
	out := []object{}
	if g.chance(0.03) {
		return out
	}
	if g.chance(0.25) {
		for range 1 + g.IntN(7) {
			out = append(out, g.any())
		}
		return out
	}
	maybe := func(p float64, r func() object) {
		if g.chance(p) {
			out = append(out, r())
		}
	}
	maybe(0.2, g.inspection)
	maybe(0.08, g.eye)
	maybe(0.1, g.cleaned)
	maybe(0.9, g.rest)
	maybe(0.1, g.any)
	maybe(0.75, g.load)
	maybe(0.25, g.conductance)
	maybe(0.15, g.crank)
	maybe(0.3, func() object {
		return object{"kind": "charged", "ended": pick(g, "full", "full", "stopped", "refused", "hot")}
	})
	if len(out) > 0 && out[len(out)-1]["kind"] == "charged" {
		maybe(0.8, g.rest)
		maybe(0.6, g.load)
		maybe(0.2, g.conductance)
	}
	maybe(0.1, g.any)
	return out
}

func (g *generator) any() object {
	return pick(
		g,
		g.inspection,
		g.eye,
		g.cleaned,
		g.rest,
		g.rest,
		g.load,
		g.load,
		g.conductance,
		g.crank,
		g.charged,
		g.charged,
		g.other,
	)()
}

func (g *generator) inspection() object {
	words := []string{
		"corrosion_live",
		"corrosion_earth",
		"loose_clamp",
		"clamp_not_seated",
		"loose_hold_down",
		"belt_slack",
		"wet_lid",
		"cover_missing",
		"cable_frayed",
		"strands_green",
		"earth_strap_bad",
		"rotten_egg_smell",
		"plates_dry",
		"vent_tube_off",
	}
	g.Shuffle(len(words), func(i, j int) { words[i], words[j] = words[j], words[i] })
	found := append([]string{}, words[:1+g.IntN(2)]...)
	switch {
	case g.chance(0.12):
		found = append(found, pick(g, "case_bulged", "case_cracked", "leaking", "frozen"))
	case g.chance(0.3):
		found = []string{"clean"}
	}
	return object{"kind": "inspection", "found": found}
}

func (g *generator) eye() object {
	return object{
		"kind":   "eye",
		"colour": pick(g, "green", "green", "green", "dark", "dark", "dark", "clear", "yellow"),
	}
}

func (g *generator) cleaned() object {
	return object{
		"kind": "cleaned",
		"what": pick(g, []string{"posts"}, []string{"posts", "clamps"}, []string{"lid"}, []string{"tray", "lid"}),
	}
}

func (g *generator) rest() object {
	v := g.between(12.45, 13, 2)
	switch g.IntN(12) {
	case 0:
		v = g.between(10, 11.9, 2)
	case 1:
		v = g.between(12.9, 14.4, 2)
	case 2, 3, 4:
		v = g.between(11.8, 12.5, 2)
	}
	r := object{"kind": "rest_voltage", "volts": g.scaled(v, 2)}
	if g.chance(0.75) {
		r["surface_charge"] = pick(g, "rested", "rested", "rested", "headlights_2min", "high_beam_5min", "load_15s",
			"none")
	}
	if g.chance(0.6) {
		r["minutes_since_charge"] = pick(g, 0.0, 10, 30, 60, 180, 600, 2880, 20000)
	}
	return r
}

// scaled brings volts of a 12 V battery to this one's.
func (g *generator) scaled(v float64, digits int) float64 {
	p := math.Pow(10, float64(digits))
	return math.Round(v*g.volts/12*p) / p
}

func (g *generator) load() object {
	r := object{"kind": "load_test", "method": pick(g, "half_cca", "half_cca", "half_cca", "fixed_10s", "starter")}
	v := g.between(8.2, 10.8, 2)
	switch g.IntN(5) {
	case 0:
		v = g.between(5, 9, 2)
	case 1:
		v = g.between(9.2, 9.8, 2) // about the limit
	}
	r["volts_end"] = g.scaled(v, 2)
	switch {
	case r["method"] == "fixed_10s":
		if g.chance(0.8) {
			r["amps"] = pick(g, 100.0, 125, 130)
		}
	case r["method"] == "half_cca" && g.chance(0.85):
		r["amps"] = math.Round(g.cca / 2 * pick(g, 1.0, 1, 1, 0.97, 0.75, 0.85, 1.15))
	case g.chance(0.4):
		r["amps"] = g.between(60, 300, 0)
	}
	if g.chance(0.8) {
		r["seconds"] = pick(g, 15.0, 15, 15, 14, 10, 20, 5)
	}
	if g.chance(0.5) {
		r["battery_c"] = g.between(-25, 35, 0)
	}
	return r
}

func (g *generator) conductance() object {
	r := object{"kind": "conductance", "cca": math.Round(g.cca * g.between(0.25, 1.25, 2))}
	if g.chance(0.7) {
		r["standard"] = pick(g, "SAE", "SAE", "EN", "DIN", "IEC", "JIS")
	}
	return r
}

func (g *generator) crank() object {
	r := object{"kind": "crank", "volts_min": g.scaled(g.between(7, 11.4, 2), 2)}
	if g.chance(0.7) {
		r["amps"] = math.Round(g.cca * g.between(0.15, 0.6, 2))
	}
	if g.chance(0.7) {
		r["seconds"] = g.between(0, 8, 0)
	}
	if g.chance(0.5) {
		r["turned"] = pick(g, "normal", "slow", "no")
	}
	return r
}

func (g *generator) charged() object {
	r := object{"kind": "charged", "ended": pick(g, "full", "full", "stopped", "refused", "hot")}
	if g.chance(0.5) {
		r["hours"] = g.between(0.5, 14, 1)
	}
	if g.chance(0.4) {
		r["amps_end"] = g.between(0.1, 4, 1)
	}
	return r
}

// other is a reading that no verdict rests on yet.
func (g *generator) other() object {
	return pick(
		g,
		object{"kind": "lid_leakage", "volts": g.between(0, 3, 2)},
		object{
			"kind":     "hydrometer",
			"cells_sg": []float64{g.between(1.1, 1.29, 3), g.between(1.1, 1.29, 3), g.between(1.1, 1.29, 3)},
			"acid_c":   g.between(-10, 40, 0),
			"level":    pick(g, "covered", "fill_mark", "plates_dry"),
		},
		object{
			"kind":  "cable_drop",
			"path":  pick(g, "live", "earth"),
			"volts": g.between(0, 1.5, 2),
			"amps":  g.between(60, 300, 0),
		},
		object{
			"kind":  "charging",
			"volts": g.scaled(g.between(12.2, 15.4, 2), 2),
			"speed": pick(g, "idle", "raised"),
			"loads": pick(g, "off", "on"),
		},
		object{"kind": "drain", "milliamps": g.between(2, 800, 0), "minutes_asleep": g.between(0, 90, 0)},
		object{"kind": "jump_result", "started": g.chance(0.5)},
	)
}

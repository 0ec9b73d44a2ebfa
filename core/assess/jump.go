package assess

import (
	"cmp"
	"encoding/json"

	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/jump"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/words"
)

// jumpHazards are the hazards of a bench as a jump request names them.
var jumpHazards = map[string]string{
	bench.HazardBulged: "case_bulged", bench.HazardCracked: "case_cracked", bench.HazardLeaking: "leaking", bench.HazardFrozen: "frozen",
	bench.HazardEye: "clear_eye", bench.HazardDry: "plates_dry", bench.HazardGas: "gassing", bench.HazardHot: "hot", bench.HazardIce: "may_be_frozen",
}

// PlanJump plans a jump start of the battery of a case as it stands. The request says what
// gives, and of the flat vehicle what no sheet knows; whatever it says of battery, charge
// and hazards gives way to the case. False where nothing can be made of the label.
func PlanJump(c reading.Case, labels bench.Labels, request []byte, v words.Voice) (jump.Plan, bool, error) {
	tree, err := document.Parse(request, jump.RequestFormat)
	if err != nil {
		return jump.Plan{}, true, err
	}
	doc, ok := tree.(map[string]any)
	if !ok {
		return jump.Plan{}, true, document.Problems{{Message: "an object is needed: a " + jump.RequestFormat + " document"}}
	}
	b := station.Put(c, labels)
	s, doubt, ok := standing(b)
	if !ok {
		return jump.Plan{}, false, nil
	}
	flat, _ := doc["flat"].(map[string]any)
	if flat == nil {
		flat = map[string]any{}
	}
	vehicle := c.Vehicle
	vehicle.SystemVolts = cmp.Or(vehicle.SystemVolts, 12)
	flat["vehicle"], flat["battery"] = vehicle, jump.Cell{Chemistry: c.Battery.Chemistry, Rating: c.Battery.Rating}
	flat["soc_pct"], flat["soc_spread_pct"], flat["battery_c"] = s.Battery.SOC(s.State), min(30, doubt.SOC), s.State.TempC
	flat["health_pct"] = 100.0
	if part, ok := b.Part(); ok {
		flat["health_pct"] = min(110, max(5, part.Best))
	}
	found := []string{}
	for _, h := range b.Hazards {
		if code, ok := jumpHazards[h.Code]; ok {
			found = append(found, code)
		}
	}
	flat["hazards"] = found
	measuredCrank(c, flat)
	doc["format"], doc["flat"] = jump.RequestFormat, flat
	if _, said := doc["clamp_on"]; !said {
		doc["clamp_on"] = ClampOn(c.Rules, c.Vehicle.Class)
	}
	data, err := json.Marshal(doc)
	if err != nil {
		return jump.Plan{}, true, err
	}
	r, err := jump.Decode(data)
	if err != nil {
		return jump.Plan{}, true, err
	}
	p, err := r.Plan(jump.Labels(labels), v)
	return p, true, err
}

// ClampOn is where the house puts the last clamp of a jump start, for a class of vehicle.
func ClampOn(r rules.Rules, class string) string {
	if r.For(class).JumpClamp == rules.JumpOnPost {
		return jump.OnPost
	}
	return jump.OnBody
}

// measuredCrank puts in what a crank of this very engine showed: its draw, and what its
// cables lose at it.
func measuredCrank(c reading.Case, flat map[string]any) {
	for _, r := range c.Readings {
		amps := r.Or("amps", 0)
		if r.Kind != station.Crank || amps < 10 || r.Word("turned") == "no" {
			continue
		}
		engine, _ := flat["engine"].(map[string]any)
		if engine == nil {
			engine = map[string]any{}
		}
		temp, _ := c.TempC(nil)
		engine["draw_amps"], engine["draw_c"] = amps, temp
		flat["engine"] = engine
		cables := map[string]any{}
		for field, name := range map[string]string{"drop_live_volts": "live_milliohms", "drop_earth_volts": "earth_milliohms"} {
			if v, ok := r.Number(field); ok {
				cables[name] = min(100, 1000*v/amps)
			}
		}
		if len(cables) > 0 {
			flat["cables"] = cables
		}
	}
}

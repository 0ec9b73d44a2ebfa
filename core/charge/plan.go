package charge

import (
	"fmt"
	"math"

	"grapnel/core/battery"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Values of the documents' "format" fields.
const (
	RequestFormat = "grapnel.charge_request/1"
	PlanFormat    = "grapnel.charge_plan/1"
)

// Request is a battery, the state it is in, and the charger it is to hang on.
type Request struct {
	Format  string `json:"format"`
	Battery struct {
		Chemistry battery.Chemistry `json:"chemistry"`
		Volts     float64           `json:"volts"`
		Caps      string            `json:"caps"`
		Rating    reading.Rating    `json:"rating"`
	} `json:"battery"`
	Start struct {
		SOCPct      float64  `json:"soc_pct"`
		SpreadPct   float64  `json:"soc_spread_pct"`
		Volts       float64  `json:"volts"`
		BatteryC    float64  `json:"battery_c"`
		AmbientC    *float64 `json:"ambient_c"`
		HealthPct   float64  `json:"health_pct"`
		CapacityPct float64  `json:"capacity_pct"`
		FlatDays    *float64 `json:"flat_days"`
		SulphatePct float64  `json:"sulphate_pct"`
	} `json:"start"`
	Charger   Charger `json:"charger"`
	InVehicle bool    `json:"in_vehicle"`
	Vehicle   struct {
		Class       string `json:"class"`
		Earth       string `json:"earth"`
		Arrangement string `json:"arrangement"`
	} `json:"vehicle"`
	ClampOn      string   `json:"clamp_on"`
	TakeOut      bool     `json:"take_out"`
	Equalise     bool     `json:"equalise"`
	Hazards      []string `json:"hazards"`
	TestReadyPct float64  `json:"test_ready_pct"`
}

// Plan is what the charge will do.
type Plan struct {
	Format   string    `json:"format"`
	Allowed  bool      `json:"allowed"`
	Refusals []Warning `json:"refusals"`

	TestReadyHours *float64 `json:"hours_to_test_ready,omitempty"`
	FullHours      *float64 `json:"hours_to_full,omitempty"`
	TestReady      *Hours   `json:"test_ready,omitempty"`
	Full           *Hours   `json:"full,omitempty"`
	ThumbHours     float64  `json:"rule_of_thumb_hours"`
	Why            string   `json:"why"`
	DelayHours     float64  `json:"delay_hours"`
	Ah             float64  `json:"ah_delivered"`
	PeakC          float64  `json:"peak_battery_c"`
	Wh             float64  `json:"energy_wh"`
	CheckEveryMin  float64  `json:"check_every_min"`

	Warnings   []Warning `json:"warnings"`
	Connect    []Move    `json:"connect"`
	Disconnect []Move    `json:"disconnect"`
	Curve      []Instant `json:"curve"`
	Band       []Range   `json:"band"`
}

// CheckEvery is how often a charging battery is looked at, minutes. Common practice, no
// source.
const CheckEvery = 30.0

// requestShape is every field of a request with its range.
var requestShape = document.Object([]string{"format", "battery", "start", "charger"}, map[string]document.Shape{
	"format": document.Words(RequestFormat),
	"battery": document.Object([]string{"chemistry", "rating"}, map[string]document.Shape{
		"chemistry": reading.ChemistryShape(), "volts": {Kind: "number", Words: []string{"6", "8", "12"}, Unit: "V"},
		"caps": document.Words("removable", "sealed"), "rating": reading.RatingShape()}),
	"start": document.Object([]string{"soc_pct"}, map[string]document.Shape{
		"soc_pct":        document.Number(0, 100, "%"),
		"soc_spread_pct": document.Number(0, 30, "%").About("how far off the charge may be, one standard deviation; 4 when left out"),
		"volts":          document.Number(0.1, 20, "V").About("what it shows now, where a charger may not see it"),
		"battery_c":      reading.TempShape().About("20 when left out"),
		"ambient_c":      document.Number(-50, 60, "°C").About("as the battery when left out"),
		"health_pct":     document.Number(5, 120, "%").About("cranking left; 100 when left out"),
		"capacity_pct":   document.Number(5, 120, "%").About("capacity left; halfway between health and 100 when left out"),
		"flat_days":      document.Number(0, 3650, "d").About("how long it has stood like this: sulphate hardens"),
		"sulphate_pct":   document.Number(0, 100, "%").About("hard sulphate, where it is known otherwise")}),
	"charger":    ChargerShape(),
	"in_vehicle": document.Flag(),
	"vehicle": document.Object(nil, map[string]document.Shape{
		"class": document.Words(reading.Classes().Codes()...), "earth": document.Words("negative", "positive"),
		"arrangement": document.Words("single", "parallel", "series")}),
	"clamp_on":       document.Words("post", "body").About("where the maker wants the earthed clamp; the post when left out"),
	"take_out":       document.Flag().About("the house charges this class out of the vehicle"),
	"equalise":       document.Flag(),
	"hazards":        document.List(0, 10, document.Words(hazards.Codes()...)),
	"test_ready_pct": document.Number(50, 100, "%").About("the charge from which it is tested; 75 when left out"),
})

// ChargerShape is a charger in any document.
func ChargerShape() document.Shape {
	amps := func(about string) document.Shape { return document.Number(0.05, 500, "A").About(about) }
	volts := func(about string) document.Shape { return document.Number(5, 40, "V").About(about) }
	setting := document.Words(settings.Codes()...).About("of its switch for the build; ordinary when left out")
	low := volts("what the low maintenance setting holds it to")
	from := document.Number(0, 15, "V").About("volts a battery must show for it to begin; 8 of 12 when left out, for smart ones")
	smart := func() document.Shape {
		return document.Object([]string{"amps_max"}, map[string]document.Shape{
			"amps_max": amps("the most it gives"), "volts_absorption": volts("by the build when left out"),
			"volts_float": volts("by the build when left out"), "setting": setting, "volts_low": low, "starts_from_volts": from})
	}
	steady := func() document.Shape {
		return document.Object([]string{"amps"}, map[string]document.Shape{
			"amps": amps("what it is switched to"), "volts_open": volts("the most it reaches; 17 of 12 when left out"),
			"setting": setting, "volts_low": low, "starts_from_volts": from})
	}
	return document.Shape{Kind: "variant", By: "kind", What: "charger", Variants: map[string]document.Shape{
		string(Smart): smart(), string(Maintainer): smart(), string(Manual): steady(), string(Trickle): steady(),
		string(Taper): document.Object(nil, map[string]document.Shape{
			"amps_start": amps("into a flat battery"), "volts_open": volts("with nothing connected; 17 of 12 when left out"),
			"volts_set": volts("its volts behind ohms, instead"), "ohms": document.Number(0.001, 100, "Ω"),
			"setting": setting, "volts_low": low, "starts_from_volts": from}),
	}}
}

// Check says what of a charger does not go together, at a path of a document.
func (c Charger) Check(path string) document.Problems {
	var wrong document.Problems
	say := func(field, message string) {
		wrong = append(wrong, document.Problem{Path: path + field, Message: message})
	}
	if c.Kind == Taper {
		behind := c.VoltsSet > 0 || c.Ohms > 0
		switch {
		case behind && c.AmpsStart > 0:
			say(".volts_set", "give amps_start and volts_open, or volts_set and ohms, not both")
		case behind && (c.VoltsSet == 0 || c.Ohms == 0):
			say(".ohms", "volts_set and ohms belong together: give both")
		case !behind && c.AmpsStart == 0:
			say(".amps_start", "is needed: what it gives into a flat battery (or volts_set with ohms)")
		}
	}
	if c.Absorption > 0 && c.Float > c.Absorption {
		say(".volts_float", fmt.Sprintf("is %g V, over the absorption volts of %g V", c.Float, c.Absorption))
	}
	if c.Setting == LowMaintenance && c.VoltsLow == 0 {
		say(".volts_low", "is needed for the low maintenance setting: what it holds the battery to")
	}
	return wrong
}

// RequestSchema gives the JSON Schema of a request.
func RequestSchema() map[string]any { return document.Schema(RequestFormat, requestShape) }

// Decode reads a request; see document.Decode for what its error lists.
func Decode(data []byte) (Request, error) {
	var r Request
	r.Battery.Volts, r.Start.SpreadPct, r.Start.BatteryC, r.Start.HealthPct, r.TestReadyPct = 12, Usual().SOC, 20, 100, 75
	if err := document.Decode(data, RequestFormat, requestShape, &r); err != nil {
		return Request{}, err
	}
	if r.Start.CapacityPct == 0 {
		r.Start.CapacityPct = CapacityOf(r.Start.HealthPct)
	}
	if wrong := r.Charger.Check("charger"); len(wrong) > 0 {
		return Request{}, wrong.Few()
	}
	return r, nil
}

// CapacityOf is the capacity, percent, that goes with so much of its cranking: what is
// lost of the one is lost by half of the other. House judgement; the band knows.
func CapacityOf(healthPct float64) float64 { return min(100, (healthPct+100)/2) }

// setup makes the battery, and how little is known of it.
func (r Request) setup() (Setup, Doubt, error) {
	b, plate, err := battery.FromLabel(r.Battery.Chemistry, int(battery.Cells(r.Battery.Volts)), r.Battery.Rating.Label())
	if err != nil {
		return Setup{}, Doubt{}, document.Problems{{Path: "battery.rating", Message: err.Error()}}
	}
	b = b.WornTo(r.Start.HealthPct).WithCapacity(r.Start.CapacityPct)
	s := Setup{Battery: b, State: b.Rested(r.Start.SOCPct, r.Start.BatteryC), Charger: r.Charger,
		Room: battery.Ambient{Start: r.Start.BatteryC}, Ready: r.TestReadyPct, Shows: r.Start.Volts}
	if r.Start.AmbientC != nil {
		s.Room.Start = *r.Start.AmbientC
	}
	hard := r.Start.SulphatePct / 100
	doubt := Usual()
	doubt.SOC = r.Start.SpreadPct
	doubt.Capacity += worseKnown*(1-min(100, r.Start.HealthPct)/100) + plate.Ah20h.Spread
	hard, doubt.Sulphate = Stood(hard, r.Start.SOCPct, r.Start.BatteryC, r.Start.FlatDays)
	return s.Hard(hard), doubt, nil
}

// Hard gives the same with hard sulphate on the plates of every cell, 0 to 1.
func (s Setup) Hard(part float64) Setup {
	for i := range s.Battery.Kinds {
		s.State.Cells[i].Sulphate = part
	}
	return s
}

// Stood gives the hard sulphate, 0 to 1, of a battery with at least so much of it known,
// which has stood at a charge for some days, nil where nobody knows them; and how little
// is known of it: one standard deviation, to the worse side.
func Stood(known, socPct, tempC float64, days *float64) (hard, spread float64) {
	usual := Usual().Sulphate
	switch {
	case days != nil:
		hard = max(known, battery.Hardened(socPct, tempC, *days))
		return hard, usual + hardKnown*hard
	case known == 0 && socPct < LongFlat:
		return 0, unknownDays
	}
	return known, usual
}

// LongFlat is the charge, percent, under which a battery hardens as it stands. House
// judgement.
const LongFlat = 40.0

// What more is not known: of an old battery's capacity, part; of hard sulphate where
// the days are known, part, and where nobody knows for how long a low battery stood.
// House judgement.
const (
	worseKnown  = 0.25
	hardKnown   = 0.3
	unknownDays = 0.08
)

func (r Request) around() Case {
	return Case{
		Hazards: r.Hazards, InVehicle: r.InVehicle, TakeOut: r.TakeOut, Equalise: r.Equalise,
		Sealed: r.Battery.Caps == "sealed", Arrangement: r.Vehicle.Arrangement, Earth: r.Vehicle.Earth, OnBody: r.ClampOn == "body",
	}
}

// Plan gives the plan of a request in a voice. The error says what in the request
// cannot be.
func (r Request) Plan(v words.Voice) (Plan, error) {
	s, doubt, err := r.setup()
	if err != nil {
		return Plan{}, err
	}
	return s.Plan(doubt, r.around(), v)
}

// Refused is the plan of a charge that is not made, for reasons.
func Refused(why []Warning) Plan {
	return Plan{Format: PlanFormat, CheckEveryMin: CheckEvery, Refusals: why, Warnings: []Warning{},
		Connect: []Move{}, Disconnect: []Move{}, Curve: []Instant{}, Band: []Range{}}
}

// Plan gives what a charge will do, what forbids it, what to mind and in what order it
// is connected, in a voice.
func (s Setup) Plan(doubt Doubt, around Case, v words.Voice) (Plan, error) {
	out := Refused(spoken(s.Refusals(around), v))
	if len(out.Refusals) > 0 {
		return out, nil
	}
	f, err := s.Forecast(doubt)
	if err != nil {
		return Plan{}, err
	}
	out.Allowed = true
	thumb, why := s.Thumb(f)
	out.ThumbHours, out.Why = fine(thumb, 2), why.In(v).String()
	out.TestReady, out.Full = f.Ready.fine(), f.Full.fine()
	if out.TestReady != nil {
		out.TestReadyHours = &out.TestReady.Best
	}
	if out.Full != nil {
		out.FullHours = &out.Full.Best
	}
	out.DelayHours, out.Ah, out.Wh, out.PeakC = fine(f.Delay.Best, 2), fine(f.Ah, 2), fine(f.Wh, 0), fine(f.PeakC, 1)
	out.Warnings = spoken(s.Warnings(around, f), v)
	out.Connect, out.Disconnect = Order(around.Earth, around.InVehicle, around.OnBody, !s.Battery.Chemistry.Liquid())
	for _, steps := range [][]Move{out.Connect, out.Disconnect} {
		for i := range steps {
			steps[i].Do = steps[i].Do.In(v)
		}
	}
	out.Curve, out.Band = f.Curve, f.Band
	for i := range out.Curve {
		out.Curve[i].fine()
		out.Band[i].fine()
	}
	return out, nil
}

func spoken(all []Warning, v words.Voice) []Warning {
	out := make([]Warning, len(all))
	for i, w := range all {
		out[i] = Warning{w.Code, w.Text.In(v)}
	}
	return out
}

// fine rounds a figure to the decimals it deserves.
func fine(v float64, digits int) float64 {
	p := math.Pow(10, float64(digits))
	return math.Round(v*p) / p
}

func (h *Hours) fine() *Hours {
	if h == nil {
		return nil
	}
	out := Hours{Low: fine(h.Low, 2), Best: fine(h.Best, 2)}
	if h.High != nil {
		high := fine(*h.High, 2)
		out.High = &high
	}
	return &out
}

func (p *Instant) fine() {
	p.Minute, p.Volts, p.Amps = fine(p.Minute, 1), fine(p.Volts, 3), fine(p.Amps, 3)
	p.SOCPct, p.BatteryC = fine(p.SOCPct, 2), fine(p.BatteryC, 2)
}

func (r *Range) fine() {
	for _, x := range []*float64{&r.VoltsLow, &r.VoltsHigh, &r.AmpsLow, &r.AmpsHigh, &r.SOCPctLow, &r.SOCPctHigh, &r.BatteryCMin, &r.BatteryCMax} {
		*x = fine(*x, 3)
	}
	r.Minute = fine(r.Minute, 1)
}

// PlanShape describes the plan.
func PlanShape() document.Shape {
	figure, text := document.Shape{Kind: "number", Unbounded: true}, document.Text(0)
	hours := document.Object([]string{"low", "best"}, map[string]document.Shape{
		"low": figure, "best": figure, "high": figure.About("absent where it may never come")})
	warning := document.Object([]string{"code", "text"}, map[string]document.Shape{"code": text, "text": text})
	step := document.Object([]string{"do", "place"}, map[string]document.Shape{
		"do": text, "place": document.Words("wall", "plus", "minus", "body", "switch").About("where the hand is"),
		"side": document.Words("live", "earthed")})
	of := func(names ...string) document.Shape {
		fields := map[string]document.Shape{}
		for _, n := range names {
			fields[n] = figure
		}
		return document.Object(names, fields)
	}
	return document.Object([]string{"format", "allowed", "refusals", "rule_of_thumb_hours", "why", "delay_hours", "ah_delivered",
		"peak_battery_c", "energy_wh", "check_every_min", "warnings", "connect", "disconnect", "curve", "band"},
		map[string]document.Shape{
			"format": document.Words(PlanFormat), "allowed": document.Flag().About("false with refusals: nothing else is worked out then"),
			"refusals":            document.List(0, 50, warning),
			"hours_to_test_ready": figure.About("absent where it does not come"),
			"hours_to_full":       figure.About("absent where it does not come within ten days"),
			"test_ready":          hours.About("nine times in ten between low and high"), "full": hours,
			"rule_of_thumb_hours": figure.About("reserve capacity minutes over average charge amps"),
			"why":                 text.About("why the rule of thumb and the model differ"),
			"delay_hours":         figure.About("in which a long-flat battery takes no current"),
			"ah_delivered":        figure.About("through the posts"), "energy_wh": figure, "peak_battery_c": figure,
			"check_every_min": figure, "warnings": document.List(0, 50, warning),
			"connect": document.List(0, 10, step), "disconnect": document.List(0, 10, step),
			"curve": document.List(0, 500, of("minute", "volts", "amps", "soc_pct", "battery_c")),
			"band": document.List(0, 500, of("minute", "volts_low", "volts_high", "amps_low", "amps_high", "soc_pct_low",
				"soc_pct_high", "battery_c_low", "battery_c_high")),
		})
}

// PlanSchema gives the JSON Schema of a plan.
func PlanSchema() map[string]any { return document.Schema(PlanFormat, PlanShape()) }

package jump

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/document"
	"grapnel/core/energy"
	"grapnel/core/engine"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Values of the documents' "format" fields.
const (
	RequestFormat = "grapnel.jump_request/1"
	PlanFormat    = "grapnel.jump_plan/1"
)

// Kinds of source.
const (
	FromVehicle = "vehicle"
	FromPack    = "pack"
	FromCharger = "charger"
)

// Where the earthed clamp goes last.
const (
	OnBody = "body" // bare metal of the engine
	OnPost = "post" // the flat battery's earthed post
)

// Request is a flat battery, what gives, and the leads between.
type Request struct {
	Format string `json:"format"`
	Flat   Flat   `json:"flat"`
	Source Source `json:"source"`
	Leads  struct {
		MM2            float64  `json:"mm2"`
		Metres         float64  `json:"metres"`
		ClampMilliohms *float64 `json:"clamp_milliohms"`
		Metal          string   `json:"metal"`
	} `json:"leads"`
	ClampOn      string  `json:"clamp_on"`
	Helper       bool    `json:"helper"`
	ClosedGarage bool    `json:"closed_garage"`
	MakerPost    bool    `json:"maker_says_post"`
	DriveMinutes float64 `json:"drive_minutes"`
	DrainMA      float64 `json:"drain_ma"`
}

// Cell is a battery in a document.
type Cell struct {
	Chemistry battery.Chemistry `json:"chemistry"`
	Rating    reading.Rating    `json:"rating"`
}

// Flat is the vehicle that does not start.
type Flat struct {
	Vehicle   reading.Vehicle `json:"vehicle"`
	Battery   Cell            `json:"battery"`
	SOCPct    float64         `json:"soc_pct"`
	SpreadPct float64         `json:"soc_spread_pct"`
	BatteryC  float64         `json:"battery_c"`
	HealthPct float64         `json:"health_pct"`
	Engine    struct {
		Litres    float64  `json:"litres"`
		Cylinders int      `json:"cylinders"`
		OilC      *float64 `json:"oil_c"`
		DrawAmps  float64  `json:"draw_amps"`
		DrawC     float64  `json:"draw_c"`
		NoGlow    bool     `json:"no_glow"`
	} `json:"engine"`
	Cables struct {
		LiveMilliohms  *float64 `json:"live_milliohms"`
		EarthMilliohms *float64 `json:"earth_milliohms"`
	} `json:"cables"`
	Place          string   `json:"battery_place"`
	JumpPost       bool     `json:"jump_post"`
	AlternatorAmps float64  `json:"alternator_amps"`
	Hazards        []string `json:"hazards"`
	SmartKey       bool     `json:"smart_key"`
}

// Source is what gives.
type Source struct {
	Kind        string  `json:"kind"`
	SystemVolts float64 `json:"system_volts"`
	Earth       string  `json:"earth"`
	Arrangement string  `json:"arrangement"`
	Class       string  `json:"class"`
	HighVoltage bool    `json:"high_voltage"`
	MakerAllows bool    `json:"maker_allows"`
	Battery     *Cell   `json:"battery"`
	SOCPct      float64 `json:"soc_pct"`
	BatteryC    float64 `json:"battery_c"`
	HealthPct   float64 `json:"health_pct"`
	Running     bool    `json:"running"`
	RPM         float64 `json:"rpm"`
	Alternator  float64 `json:"alternator_amps"`
	PeakAmps    float64 `json:"peak_amps"`
	CCA         float64 `json:"cca"`
	BoostAmps   float64 `json:"boost_amps"`
	BoostVolts  float64 `json:"boost_volts"`
	OnSeconds   float64 `json:"boost_on_s"`
	RestSeconds float64 `json:"boost_rest_s"`
}

// What is usual where a request does not say. Common practice, no source: a pair of 25 mm²
// leads, three metres long, with clamps of a milliohm; a pack's own are short.
const (
	usualClamp    = 1.0  // mΩ
	poorClamp     = 4.0  // mΩ, of one that looks as if it bites
	usualSOC      = 95.0 // of what gives, %
	usualMM2      = 25.0
	usualMetres   = 3.0
	packMM2       = 16.0
	packMetres    = 0.6
	chargerMM2    = 10.0
	chargerMetres = 1.8
	usualDrive    = 15.0 // minutes: the folk rule
	boostOn       = 5.0  // s a boost may be on, and has to rest; its plate goes first
	boostRest     = 180.0
)

// hazards are what keeps a battery from being jumped, as it is seen or worked out: all that
// keeps it from being charged, and what a spark or a heavy draw would set off.
var hazards = charge.Hazards().With(
	words.Term{Code: "hot", Word: "Too hot to touch"},
	words.Term{Code: "gassing", Word: "Smells, gassing"},
	words.Term{Code: "may_be_frozen", Word: "May be frozen"})

// Hazards gives what keeps a battery from being jumped.
func Hazards() words.List { return hazards }

func cellShape(about string) document.Shape {
	return document.Object([]string{"chemistry", "rating"}, map[string]document.Shape{
		"chemistry": reading.ChemistryShape(), "rating": reading.RatingShape().About(about)})
}

// requestShape is every field of a request with its range.
var requestShape = document.Object([]string{"format", "flat", "source"}, map[string]document.Shape{
	"format": document.Words(RequestFormat),
	"flat": document.Object([]string{"vehicle", "battery", "soc_pct"}, map[string]document.Shape{
		"vehicle": reading.VehicleShape(), "battery": cellShape("of one battery, where there are two"),
		"soc_pct":        document.Number(0, 100, "%"),
		"soc_spread_pct": document.Number(0, 30, "%").About("how far off the charge may be; 4 when left out"),
		"battery_c":      reading.TempShape().About("20 when left out"),
		"health_pct":     document.Number(5, 120, "%").About("cranking left; 100 when left out"),
		"engine": document.Object(nil, map[string]document.Shape{
			"litres":    document.Number(0.05, 30, "l").About("what the label is usual for when left out"),
			"cylinders": {Kind: "integer", Min: 1, Max: 16, Null: true},
			"oil_c":     document.Number(-50, 120, "°C").About("as the battery when left out"),
			"draw_amps": document.Number(10, 3000, "A").About("what its starter was seen to draw, turning steadily"),
			"draw_c":    document.Number(-50, 120, "°C").About("of its oil then; 20 when left out"),
			"no_glow":   document.Flag().About("a diesel started without its glow plugs")}),
		"cables": document.Object(nil, map[string]document.Shape{
			"live_milliohms":  document.Number(0, 100, "mΩ").About("battery to starter; usual when left out"),
			"earth_milliohms": document.Number(0, 100, "mΩ").About("engine to battery; usual when left out")}),
		"battery_place":   document.Words("front", "boot").About("front when left out"),
		"jump_post":       document.Flag().About("it has a post in front to be jumped at"),
		"alternator_amps": document.Number(0, 500, "A").About("usual for its class when left out"),
		"smart_key":       document.Flag().About("no key to turn: an immobiliser can imitate a flat battery"),
		"hazards":         document.List(0, 10, document.Words(hazards.Codes()...)),
	}),
	"source": {Kind: "variant", By: "kind", What: "source", Common: map[string]document.Shape{
		"system_volts": document.Shape{Kind: "number", Words: []string{"6", "8", "12", "24"},
			Unit: "V"}.About("the flat vehicle's when left out")},
		Variants: map[string]document.Shape{
			FromVehicle: document.Object([]string{"battery"}, giving(map[string]document.Shape{
				"earth": document.Words("negative", "positive").About("the flat vehicle's when left out"),
				"class": document.Words(reading.Classes().Codes()...), "arrangement": document.Words("single", "parallel",
					"series"),
				"high_voltage": document.Flag(), "maker_allows": document.Flag().About("its maker lets it give"),
				"running": document.Flag(), "rpm": document.Number(0, 4000, "rpm").About("of its engine; 750 when left out"),
				"alternator_amps": document.Number(0, 500, "A").About("usual for its class when left out")})),
			FromPack: document.Object(nil, giving(map[string]document.Shape{
				"peak_amps": document.Number(50, 6000, "A").About("printed on it"),
				"cca":       document.Number(20, 2000, "A").About("cold cranking amps printed on it")})),
			FromCharger: document.Object([]string{"boost_amps"}, map[string]document.Shape{
				"boost_amps": document.Number(5, 1000, "A"), "boost_volts": document.Number(5, 40,
					"V").About("15 of 12 when left out"),
				"boost_on_s":   document.Number(1, 600, "s").About("its plate's duty; 5 when left out"),
				"boost_rest_s": document.Number(0, 3600, "s").About("its plate's rest; 180 when left out")}),
		}},
	"leads": document.Object(nil, map[string]document.Shape{
		"mm2":             document.Number(1, 240, "mm²").About("of metal in each; 25 when left out"),
		"metres":          document.Number(0.2, 20, "m").About("each; 3 when left out"),
		"clamp_milliohms": document.Number(0, 100, "mΩ").About("of one clamp where it bites; 1 when left out"),
		"metal":           document.Words(Copper, Clad).About("copper when left out")}),
	"clamp_on":        document.Words(OnBody, OnPost).About("where the earthed clamp goes last; the body when left out"),
	"maker_says_post": document.Flag().About("the maker wants it on the post, whatever the house does"),
	"helper":          document.Flag().About("somebody holds the loose end"),
	"closed_garage":   document.Flag(),
	"drive_minutes":   document.Number(1, 600, "min").About("the drive home; 15 when left out"),
	"drain_ma":        document.Number(0, 5000, "mA").About("with everything asleep; usual for its class when left out"),
})

// giving are the fields of a battery that gives.
func giving(more map[string]document.Shape) map[string]document.Shape {
	out := map[string]document.Shape{
		"battery": cellShape("of one battery, where there are two"), "soc_pct": document.Number(0, 100,
			"%").About("95 when left out"),
		"battery_c": reading.TempShape().About("as the flat one when left out"), "health_pct": document.Number(5, 120,
			"%").About("100 when left out")}
	for name, s := range more {
		out[name] = s
	}
	return out
}

// RequestSchema gives the JSON Schema of a request.
func RequestSchema() map[string]any { return document.Schema(RequestFormat, requestShape) }

// Decode reads a request; see document.Decode for what its error lists.
func Decode(data []byte) (Request, error) {
	var r Request
	f, s := &r.Flat, &r.Source
	f.Vehicle.SystemVolts, f.SpreadPct, f.BatteryC, f.HealthPct, f.Engine.DrawC = 12, charge.Usual().SOC, 20, 100, 20
	s.BatteryC, s.SOCPct, s.HealthPct, s.RPM, s.OnSeconds, s.RestSeconds = math.NaN(), usualSOC, 100, IdleRPM, boostOn, boostRest
	r.ClampOn, r.DriveMinutes, r.DrainMA = OnBody, usualDrive, math.NaN()
	if err := document.Decode(data, RequestFormat, requestShape, &r); err != nil {
		return Request{}, err
	}
	r.complete()
	if wrong := r.check(); len(wrong) > 0 {
		return Request{}, wrong.Few()
	}
	return r, nil
}

// usualLeads gives the copper and the length of the leads that a kind of source comes with.
func usualLeads(kind string) (mm2, metres float64) {
	switch kind {
	case FromPack:
		return packMM2, packMetres
	case FromCharger:
		return chargerMM2, chargerMetres
	}
	return usualMM2, usualMetres
}

// complete puts in what is usual where nothing was said.
func (r *Request) complete() {
	f, s, l := &r.Flat, &r.Source, &r.Leads
	if f.Vehicle.SystemVolts == 0 {
		f.Vehicle.SystemVolts = 12
	}
	if s.SystemVolts == 0 {
		s.SystemVolts = f.Vehicle.SystemVolts
	}
	if s.Earth == "" {
		s.Earth = f.Vehicle.Earth
	}
	if math.IsNaN(s.BatteryC) {
		s.BatteryC = f.BatteryC
	}
	usual := energy.UsualOf(f.Vehicle.Class)
	if math.IsNaN(r.DrainMA) {
		r.DrainMA = usual.DrainMilliamps
	}
	if f.AlternatorAmps == 0 {
		f.AlternatorAmps = usual.RoadAmps
	}
	if s.Kind == FromVehicle && s.Alternator == 0 {
		s.Alternator = energy.UsualOf(s.Class).RoadAmps
	}
	if s.Kind == FromCharger && s.BoostVolts == 0 {
		s.BoostVolts = boostVolts * battery.Cells(f.Vehicle.SystemVolts)
	}
	mm2, metres := usualLeads(s.Kind)
	if l.MM2 == 0 {
		l.MM2 = mm2
	}
	if l.Metres == 0 {
		l.Metres = metres
	}
	if l.ClampMilliohms == nil {
		clamp := usualClamp
		l.ClampMilliohms = &clamp
	}
	if l.Metal == "" {
		l.Metal = Copper
	}
}

// check says what does not go together.
func (r *Request) check() document.Problems {
	s := r.Source
	var wrong document.Problems
	if s.Kind == FromPack && s.Battery == nil && s.PeakAmps == 0 && s.CCA == 0 {
		wrong = append(wrong, document.Problem{Path: "source.peak_amps",
			Message: "is needed, or cca, or its battery: how strong the pack is"})
	}
	return wrong
}

// Labels finds the battery of a label, of a build and a number of cells.
type Labels func(battery.Chemistry, int, rating.Label) (battery.Battery, battery.Nameplate, error)

// bank gives the batteries of one vehicle as one.
func (c Cell) bank(path string, labels Labels, system float64, arrangement string, health float64) (battery.Battery, error) {
	each := system
	if arrangement == "series" {
		each /= 2
	}
	b, _, err := labels(c.Chemistry, int(battery.Cells(each)), c.Rating.Label())
	if err != nil {
		return b, document.Problems{{Path: path + ".rating", Message: err.Error()}}
	}
	if health != 100 {
		b = b.WornTo(health).WithCapacity(charge.CapacityOf(health))
	}
	switch arrangement {
	case "parallel":
		b = b.Times(2)
	case "series":
		b = b.Chain(2)
	}
	return b, nil
}

// giver gives the battery of the source; nil for a charger.
func (s Source) giver(labels Labels) (*battery.Battery, error) {
	cell := s.Battery
	switch {
	case s.Kind == FromCharger:
		return nil, nil
	case cell == nil:
		cca := s.CCA
		if cca == 0 {
			cca = PackCCA(s.PeakAmps)
		}
		cell = &Cell{Chemistry: battery.AGM, Rating: reading.Rating{CCA: &cca}}
	}
	b, err := cell.bank("source.battery", labels, s.SystemVolts, s.Arrangement, s.HealthPct)
	return &b, err
}

// maker gives what holds the source's volts, and the amps it takes itself from its battery.
func (s Source) maker() (Maker, float64) {
	switch {
	case s.Kind == FromCharger:
		return Boost(s.BoostAmps, s.BoostVolts), 0
	case s.Kind == FromPack || !s.Running:
		return Maker{}, 0
	}
	own := energy.UsualOf(s.Class).LoadAmps[energy.LittleOn] * 12 / s.SystemVolts
	m := Alternator(s.Alternator, s.RPM, own, energy.Regulated(energy.UsualVolts, s.BatteryC, s.SystemVolts))
	if m.Amps <= 0 {
		return m, own - s.Alternator*AlternatorPart(s.RPM)
	}
	return m, 0
}

// leads gives the leads, with as many clamps as they have.
func (r *Request) leads() Leads {
	l := Leads{MM2: r.Leads.MM2, Metres: r.Leads.Metres, Metal: r.Leads.Metal, ClampOhms: *r.Leads.ClampMilliohms / 1000,
		Clamps: 4}
	if r.Source.Kind != FromVehicle {
		l.Clamps = 2
	}
	return l
}

// make gives the engine's make.
func (f Flat) make() engine.Make {
	return engine.Make{Fuel: f.Vehicle.Fuel, Litres: f.Engine.Litres, Cylinders: f.Engine.Cylinders,
		Volts: f.Vehicle.SystemVolts, NoGlow: f.Engine.NoGlow}
}

// engine gives what its engine draws: as it was seen, by its size, or as is usual for its
// label.
func (f Flat) engine(label battery.Battery) engine.Engine {
	if f.Engine.DrawAmps > 0 {
		return engine.Cranked(f.Engine.DrawAmps, f.Engine.DrawC)
	}
	if e, ok := engine.BySize(f.make()); ok {
		return e
	}
	cca := label.CCA
	if f.Vehicle.Arrangement == "parallel" {
		cca /= 2 // of one
	}
	return engine.Of(f.Vehicle.Fuel, cca)
}

func (f Flat) oilC() float64 {
	if f.Engine.OilC != nil {
		return *f.Engine.OilC
	}
	return f.BatteryC
}

// Of a sound vehicle's cables, volts lost on each side at its warm steady draw, of 12; a
// cable to the boot is longer. Common practice, no source: less than 0.3 V both together.
const (
	cableVolts = 0.12
	bootVolts  = 0.30
)

// cables gives the ohms from battery to starter and from engine back to the battery, and
// of what leads from a jump post to the battery.
func (f Flat) cables(amps float64) (live, earthed, toPost float64) {
	k := f.Vehicle.SystemVolts / 12
	live, earthed = cableVolts*k/amps, cableVolts*k/amps
	if f.Cables.LiveMilliohms != nil {
		live = *f.Cables.LiveMilliohms / 1000
	}
	if f.Cables.EarthMilliohms != nil {
		earthed = *f.Cables.EarthMilliohms / 1000
	}
	if f.Place == "boot" {
		long := bootVolts * k / amps
		if f.JumpPost {
			return live, earthed, long
		}
		live += long
	}
	return live, earthed, 0
}

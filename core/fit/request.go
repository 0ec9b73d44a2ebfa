package fit

import (
	"cmp"
	"fmt"
	"strings"
	"time"

	"grapnel/core/battery"
	"grapnel/core/document"
	"grapnel/core/engine"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Values of the documents' "format" fields.
const (
	RequestFormat = "grapnel.fit_request/1"
	Format        = "grapnel.fit/1"
)

// MostStock is how many batteries are looked at in one request.
const MostStock = 500

// Request is a vehicle, what it needs, and what is on the shelf.
type Request struct {
	Format   string          `json:"format"`
	Vehicle  reading.Vehicle `json:"vehicle"`
	Needs    Needs           `json:"needs"`
	Engine   *Engine         `json:"engine"`
	ColdestC *float64        `json:"coldest_c"`
	Today    string          `json:"today"`
	Stock    []Item          `json:"stock"`
}

// Needs is what the maker of a vehicle asks of its battery, as far as anybody knows. Zero
// and empty mean that nobody said.
type Needs struct {
	CCA         float64           `json:"cca,omitempty"`
	Standard    rating.Standard   `json:"standard,omitempty"`
	Ah20h       float64           `json:"ah_20h,omitempty"`
	RCMin       float64           `json:"rc_min,omitempty"`
	Chemistry   battery.Chemistry `json:"chemistry,omitempty"`
	Group       string            `json:"group,omitempty"`
	TrayMM      []float64         `json:"tray_mm,omitempty"` // length, width, height inside
	HoldDown    string            `json:"hold_down,omitempty"`
	Positive    string            `json:"positive,omitempty"`
	Terminals   string            `json:"terminals,omitempty"`
	Vent        string            `json:"vent,omitempty"`
	VentTube    bool              `json:"vent_tube,omitempty"` // it stands where people sit, or in a closed box
	ChargingV   float64           `json:"charging_volts,omitempty"`
	Unregulated bool              `json:"unregulated,omitempty"` // a dynamo or coil without a regulator
}

// Engine is what the battery has to turn, where more is known of it than its class.
type Engine struct {
	Litres   float64  `json:"litres"`
	DrawAmps float64  `json:"draw_amps"`
	DrawC    *float64 `json:"draw_c"`
}

// Item is one battery on the shelf.
type Item struct {
	Tag       string            `json:"tag"`
	Chemistry battery.Chemistry `json:"chemistry"`
	Volts     float64           `json:"volts,omitempty"`
	Rating    reading.Rating    `json:"rating"`
	Group     string            `json:"group,omitempty"`
	SizeMM    []float64         `json:"size_mm,omitempty"` // length, width, height over the terminals
	HoldDown  string            `json:"hold_down,omitempty"`
	Positive  string            `json:"positive,omitempty"`
	Terminals string            `json:"terminals,omitempty"`
	Vent      string            `json:"vent,omitempty"`
	Made      string            `json:"made,omitempty"`
	DryCharge bool              `json:"dry_charged,omitempty"`
	Tested    *Tested           `json:"tested,omitempty"`
}

// Tested is what the last test on the shelf found.
type Tested struct {
	RestVolts float64         `json:"rest_volts,omitempty"`
	BatteryC  *float64        `json:"battery_c,omitempty"`
	CCA       float64         `json:"cca,omitempty"`
	Standard  rating.Standard `json:"standard,omitempty"`
	On        string          `json:"on,omitempty"` // a date
	// Verdict is what its own sheet came to, in the words of an assessment; empty for none.
	Verdict string `json:"verdict,omitempty"`
}

// How a battery is held in its tray.
const (
	ByFoot = "base" // a ledge along its foot
	ByTop  = "top"  // a bar or frame over it
)

// Sides.
const (
	Left   = "left"
	Right  = "right"
	Either = "either"
	Both   = "both"
	None   = "none"
)

// vocabularies of needs and stock.
var (
	holdDowns = words.ListOf(words.Term{Code: ByFoot, Word: "Ledge at its foot"},
		words.Term{Code: ByTop, Word: "Bar over the top"})
	positives = words.ListOf(words.Term{Code: Left, Word: "+ on the left"}, words.Term{Code: Right, Word: "+ on the right"})
	vents     = words.ListOf(words.Term{Code: Left, Word: "Vent left"}, words.Term{Code: Right, Word: "Vent right"},
		words.Term{Code: Both, Word: "Vent at both ends"}, words.Term{Code: None, Word: "No vent port"})
)

// Vocabularies gives what of needs and stock is chosen from a list, by field.
func Vocabularies() map[string]words.List {
	return map[string]words.List{"hold_down": holdDowns, "positive": positives, "vent": vents}
}

// Dimensions in millimetres that a battery and its tray can have.
const leastMM, mostMM = 40, 800

func sizeShape() document.Shape { return document.List(3, 3, document.Number(leastMM, mostMM, "mm")) }

// ItemShape is one battery on the shelf in any document.
func ItemShape() document.Shape {
	v := reading.Vocabularies()
	return document.Object([]string{"tag", "chemistry"}, map[string]document.Shape{
		"tag": document.Text(40), "chemistry": reading.ChemistryShape(),
		"volts": document.Shape{Kind: "number", Words: []string{"6", "8", "12"},
			Unit: "V"}.About("of the battery; 12 when left out"),
		"rating":      reading.RatingShape(),
		"group":       document.Text(12).About("group size or box: 47, L2, D23L"),
		"size_mm":     sizeShape().About("length, width, height over the terminals; of the group when left out"),
		"hold_down":   document.Words(holdDowns.Codes()...).About("what it can be held by"),
		"positive":    document.Words(positives.Codes()...).About("seen from the front with the posts nearest"),
		"terminals":   document.Words(v["terminals"].Codes()...),
		"vent":        document.Words(vents.Codes()...),
		"made":        document.Shape{Kind: "month", Null: true}.About("year and month, 2022-03"),
		"dry_charged": document.Flag().About("dry until it is sold: filled, then charged"),
		"tested": document.Object(nil, map[string]document.Shape{
			"rest_volts": document.Number(0, 20, "V"), "battery_c": reading.TempShape().About("20 when left out"),
			"cca": document.Number(5, 3000, "A").About("found by a tester"), "standard": reading.StandardShape(),
			"on":      document.Shape{Kind: "date", Null: true},
			"verdict": document.Text(40).About("what its own sheet came to, as in an assessment")}),
	})
}

// NeedsShape is what a vehicle needs in any document.
func NeedsShape() document.Shape {
	v := reading.Vocabularies()
	return document.Object(nil, map[string]document.Shape{
		"cca": document.Number(5, 3000, "A").About("the maker's figure"), "standard": reading.StandardShape().About("SAE when left out"),
		"ah_20h": document.Number(1, 600, "Ah"), "rc_min": document.Number(1, 1000, "min"), "chemistry": reading.ChemistryShape(),
		"group":     document.Text(12).About("group size or box the tray is made for"),
		"tray_mm":   sizeShape().About("inside: length, width, height"),
		"hold_down": document.Words(holdDowns.Codes()...).About("how its tray holds it"),
		"positive": document.Words(append(positives.Codes(),
			Either)...).About("seen from the front with the posts nearest"),
		"terminals":      document.Words(v["terminals"].Codes()...),
		"vent":           document.Words(Left, Right, Either).About("at which end its tube hangs"),
		"vent_tube":      document.Flag().About("it stands where people sit, or in a closed box"),
		"charging_volts": document.Number(5, 40, "V").About("the most its charging system was seen to hold"),
		"unregulated":    document.Flag().About("a dynamo or coil whose volts nothing limits")})
}

var requestShape = document.Object([]string{"format", "vehicle", "today", "stock"}, map[string]document.Shape{
	"format": document.Words(RequestFormat), "vehicle": reading.VehicleShape(), "needs": NeedsShape(),
	"engine": document.Object(nil, map[string]document.Shape{
		"litres":    document.Number(0.05, 30, "l"),
		"draw_amps": document.Number(10, 3000, "A").About("what its starter was seen to draw, turning steadily"),
		"draw_c":    document.Number(-50, 120, "°C").About("of its oil then; 20 when left out")}),
	"coldest_c": document.Number(-60, 30, "°C").About("the coldest start of this place"),
	"today":     {Kind: "date"},
	"stock":     document.List(0, MostStock, ItemShape()),
})

// RequestSchema gives the JSON Schema of a request.
func RequestSchema() map[string]any { return document.Schema(RequestFormat, requestShape) }

// Decode reads a request; see document.Decode for what its error lists.
func Decode(data []byte) (Request, error) {
	r := Request{}
	if err := document.Decode(data, RequestFormat, requestShape, &r); err != nil {
		return Request{}, err
	}
	if wrong := r.check(); len(wrong) > 0 {
		return Request{}, wrong.Few()
	}
	return r, nil
}

// DecodeItem reads one battery of the shelf; see document.Decode for what its error lists.
func DecodeItem(data []byte) (Item, error) {
	var s Item
	if err := document.Decode(data, "battery of the shelf", ItemShape(), &s); err != nil {
		return Item{}, err
	}
	s.Tag, s.Group = words.Clean(s.Tag), strings.ToUpper(words.Clean(s.Group))
	if s.Tag == "" {
		return Item{}, document.Problems{{Path: "tag", Message: "is empty: every battery needs a tag of its own"}}
	}
	return s, nil
}

// check says what does not go together.
func (r *Request) check() document.Problems {
	var wrong document.Problems
	seen := map[string]int{}
	for i, s := range r.Stock {
		tag := strings.ToLower(words.Clean(s.Tag))
		if tag == "" {
			wrong = append(wrong, document.Problem{Path: fmt.Sprintf("stock[%d].tag", i),
				Message: "is empty: every battery needs a tag of its own"})
		} else if first, twice := seen[tag]; twice {
			wrong = append(wrong, document.Problem{Path: fmt.Sprintf("stock[%d].tag", i),
				Message: fmt.Sprintf("%s stands at stock[%d] already: every battery needs a tag of its own",
					document.Quote(s.Tag), first)})
		}
		seen[tag] = i
	}
	return wrong
}

// fill puts in what a group size says of a need.
func (n Needs) fill() Needs {
	g, ok := rating.FindGroupSize(n.Group)
	if !ok {
		return n
	}
	if n.TrayMM == nil {
		n.TrayMM = []float64{g.Length, g.Width, g.Height}
	}
	if n.Positive == "" {
		n.Positive = string(g.Positive)
	}
	if n.Terminals == "" {
		n.Terminals = string(g.Terminal)
	}
	return n
}

// fill puts in what a group size says of a battery.
func (s Item) fill() Item {
	g, ok := rating.FindGroupSize(s.Group)
	if ok && s.SizeMM == nil {
		s.SizeMM = []float64{g.Length, g.Width, g.Height}
	}
	if ok && s.Positive == "" {
		s.Positive = string(g.Positive)
	}
	if ok && s.Terminals == "" {
		s.Terminals = string(g.Terminal)
	}
	if s.Volts == 0 && ok {
		s.Volts = g.Volts
	}
	if s.Volts == 0 {
		s.Volts = 12
	}
	return s
}

// volts gives the volts of one battery of the vehicle.
func (r *Request) volts() float64 { return reading.Case{Vehicle: r.Vehicle}.Volts() }

// engine gives what the battery has to turn, and whether it is known from more than the
// maker's figure; false where nothing is known of it.
func (r *Request) engine() (e engine.Engine, sure, ok bool) {
	if r.Vehicle.Electric() {
		return e, false, false
	}
	if in := r.Engine; in != nil && in.DrawAmps > 0 {
		at := 20.0
		if in.DrawC != nil {
			at = *in.DrawC
		}
		return r.shared(engine.Cranked(in.DrawAmps, at)), true, true
	}
	if in := r.Engine; in != nil {
		if e, ok := engine.BySize(engine.Make{Fuel: r.Vehicle.Fuel, Litres: in.Litres,
			Volts: cmp.Or(r.Vehicle.SystemVolts, 12)}); ok {
			return r.shared(e), true, true
		}
	}
	need := rating.Label{CCA: r.Needs.CCA, Standard: r.Needs.Standard}
	if sae, ok := need.ToSAE(); ok {
		return engine.Of(r.Vehicle.Fuel, sae.Amps), false, true
	}
	return e, false, false
}

// shared gives what one battery has to turn of an engine: half of it where two stand side
// by side.
func (r *Request) shared(e engine.Engine) engine.Engine {
	if r.Vehicle.Arrangement == "parallel" {
		e.Amps = battery.Band{Low: e.Amps.Low / 2, Best: e.Amps.Best / 2, High: e.Amps.High / 2}
	}
	return e
}

// month gives the month of today.
func (r *Request) month() rating.Month {
	t, err := time.Parse(time.DateOnly, r.Today)
	if err != nil {
		return rating.Month{}
	}
	return rating.Month{Year: t.Year(), Month: int(t.Month())}
}

// since gives the days from a date to today; false where either is none.
func (r *Request) since(date string) (float64, bool) {
	then, err1 := time.Parse(time.DateOnly, date)
	now, err2 := time.Parse(time.DateOnly, r.Today)
	return now.Sub(then).Hours() / 24, err1 == nil && err2 == nil
}

// Battery gives what its label says, as any sheet has it.
func (s Item) Battery() reading.Battery {
	whole := s.fill()
	return reading.Battery{Tag: s.Tag, Chemistry: s.Chemistry, Caps: s.Chemistry.Caps(), Terminals: whole.Terminals,
		Rating: s.Rating, Made: s.Made}
}

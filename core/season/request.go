package season

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"grapnel/core/battery"
	"grapnel/core/climate"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// Values of the documents' "format" fields.
const (
	RequestFormat = "grapnel.season_request/1"
	Format        = "grapnel.season_plan/1"
)

// Most of what a request may hold.
const (
	MostDays  = 800
	MostLooks = 100
)

// Request is a battery that is to stand, from when to when, where, and what is at hand.
type Request struct {
	Format     string          `json:"format"`
	Vehicle    reading.Vehicle `json:"vehicle"`
	Battery    reading.Battery `json:"battery"`
	Start      Start           `json:"start"`
	From       string          `json:"from"` // dates
	To         string          `json:"to"`
	Place      Place           `json:"place"`
	DrainMA    *float64        `json:"drain_ma,omitempty"` // measured; typical of the class when left out
	AtHand     []string        `json:"at_hand"`
	Solar      *Solar          `json:"solar,omitempty"`
	IndoorsC   *float64        `json:"indoors_c,omitempty"`
	Maintainer *Maintainer     `json:"maintainer,omitempty"`
	// MayDrive says that it may go on the road now and then; road vehicles do when left out.
	MayDrive *bool `json:"may_drive,omitempty"`
	// Ready says that it has to start on any day.
	Ready bool        `json:"ready_any_day,omitempty"`
	Way   string      `json:"way,omitempty"` // it is kept in; the one chosen when left out
	Today string      `json:"today,omitempty"`
	Looks []Look      `json:"looks,omitempty"`
	Rules rules.Rules `json:"rules"`
}

// Start is the battery as it is put away.
type Start struct {
	SOCPct    float64  `json:"soc_pct"`
	SpreadPct *float64 `json:"spread_pct,omitempty"`
	HealthPct float64  `json:"health_pct"`
}

// Place is where it stands: the months there, typed or of a climate that ships, and the
// days somebody knows better.
type Place struct {
	Climate string            `json:"climate,omitempty"`
	Mean    []float64         `json:"monthly_mean_c,omitempty"`
	Low     []float64         `json:"monthly_low_c,omitempty"`
	Days    []climate.Weather `json:"days,omitempty"`
}

// Solar is a panel and where it lies.
type Solar struct {
	Watts       float64 `json:"watts"`
	LatitudeDeg float64 `json:"latitude_deg"`
}

// Look is what was found of it while it stood.
type Look struct {
	Date      string   `json:"date"`
	RestVolts *float64 `json:"rest_volts,omitempty"`
	BatteryC  *float64 `json:"battery_c,omitempty"` // as warm as the day when left out
	SOCPct    *float64 `json:"soc_pct,omitempty"`
	Charged   bool     `json:"charged,omitempty"` // full after it
	DriveMin  float64  `json:"drive_minutes,omitempty"`
}

// What is at hand to keep a battery with.
const (
	Mains      = "mains"
	LiveSocket = "live_socket"
	Panel      = "solar"
	Indoors    = "indoors"
	Switch     = "switch"
	Nothing    = "nothing"
)

var atHand = words.ListOf(words.Term{Code: Mains, Word: "Mains beside it"},
	words.Term{Code: LiveSocket, Word: "Socket live with the key out"},
	words.Term{Code: Panel, Word: "Solar panel"}, words.Term{Code: Indoors, Word: "Shelf indoors"},
	words.Term{Code: Switch, Word: "Disconnect switch"}, words.Term{Code: Nothing, Word: "Nothing"})

// AtHand gives what can be at hand, in the order it is offered.
func AtHand() words.List { return atHand }

// usualIndoorsC is how warm a shelf indoors is where nobody says, °C.
const usualIndoorsC = 10.0

// The ways of keeping a battery.
const (
	Connected    = "connected"
	Disconnected = "disconnected"
	ChargeEvery  = "charge_every"
	DriveEvery   = "drive_every"
	Maintained   = "maintainer"
	BySun        = "solar"
	TakenIn      = "indoors"
)

var waysOf = words.ListOf(
	words.Term{Code: Connected, Word: "Leave it connected"},
	words.Term{
		Code: Disconnected,
		Word: "Earthed clamp off",
	},
	words.Term{Code: ChargeEvery, Word: "Charge it now and then"},
	words.Term{Code: DriveEvery, Word: "Drive it now and then"},
	words.Term{Code: Maintained, Word: "Maintainer"},
	words.Term{Code: BySun, Word: "Solar panel"},
	words.Term{Code: TakenIn, Word: "Take it indoors"},
)

// Ways gives the ways of keeping a battery.
func Ways() words.List { return waysOf }

// monthsShape is a temperature of each month.
func monthsShape() document.Shape {
	return document.List(12, 12, document.Shape{Kind: "number", Min: climate.Lowest, Max: climate.Highest, Unit: "°C"})
}

func presetCodes() (out []string) {
	for _, p := range climate.Presets() {
		out = append(out, p.Code)
	}
	return out
}

var requestShape = document.Object([]string{"format", "vehicle", "battery", "start", "from", "to", "place"},
	map[string]document.Shape{
		"format": document.Words(RequestFormat), "vehicle": reading.VehicleShape(), "battery": reading.BatteryShape(),
		"start": document.Object([]string{"soc_pct"}, map[string]document.Shape{
			"soc_pct":    document.Number(0, 100, "%").About("charge as it is put away"),
			"spread_pct": document.Number(0, 50, "%").About("± of it; 5 when left out"),
			"health_pct": document.Number(5, 120, "%").About("cranking left of its label; 100 when left out")}),
		"from": {Kind: "date"}, "to": {Kind: "date"},
		"place": document.Object(nil, map[string]document.Shape{
			"climate":        document.Words(presetCodes()...).About("one that ships, instead of the months"),
			"monthly_mean_c": monthsShape().About("from January"),
			"monthly_low_c":  monthsShape().About("coldest usual night of each month, from January"),
			"days": document.List(0, MostDays, climate.WeatherShape()).
				About("days as they were or are forecast, in any order")}),
		"drain_ma": document.Number(0, 20000, "mA").
			About("with everything asleep, measured; typical of the class when left out"),
		"at_hand": document.List(0, 6, document.Words(atHand.Codes()...)),
		"solar": document.Object([]string{"watts", "latitude_deg"}, map[string]document.Shape{
			"watts": document.Number(0.1, 2000, "W"), "latitude_deg": document.Number(-90, 90, "°").About("north")}),
		"indoors_c":  document.Number(-30, 40, "°C").About("10 when left out"),
		"maintainer": maintainerShape,
		"may_drive": document.Flag().
			About("it may go on the road now and then; true for road vehicles when left out"),
		"ready_any_day": document.Flag().About("it has to start on any day"),
		"way":           document.Words(waysOf.Codes()...).About("it is kept in; the one chosen when left out"),
		"today":         document.Shape{Kind: "date"}.About("the day it is asked; the first when left out"),
		"looks": document.List(0, MostLooks, document.Object([]string{"date"}, map[string]document.Shape{
			"date": {Kind: "date"}, "rest_volts": document.Number(0, 20, "V"), "battery_c": reading.TempShape(),
			"soc_pct": document.Number(0, 100, "%"), "charged": document.Flag().About("full after it"),
			"drive_minutes": document.Number(0, 1440, "min").About("it was driven that day")})),
		"rules": rulesShape(),
	})

// rulesShape are the house rules of a season.
func rulesShape() document.Shape {
	fields := map[string]document.Shape{}
	for _, r := range rules.Book() {
		if r.ID == rules.StoreMargin || r.ID == rules.StoreMinSOC {
			fields[r.Field] = document.Number(r.Min, r.Max, r.Unit).About(r.Question)
		}
	}
	return document.Object(nil, fields)
}

// RequestSchema gives the JSON Schema of a request.
func RequestSchema() map[string]any { return document.Schema(RequestFormat, requestShape) }

// usualSpread is ± percent of a charge nobody says more of.
const usualSpread = 5.0

// Decode reads a request; see document.Decode for what its error lists.
func Decode(data []byte) (Request, error) {
	r := Request{Start: Start{HealthPct: 100}, Rules: rules.Default()}
	if err := document.Decode(data, RequestFormat, requestShape, &r); err != nil {
		return Request{}, err
	}
	if wrong := r.Check(); len(wrong) > 0 {
		return Request{}, wrong.Few()
	}
	return r, nil
}

// Check says what of a request does not go together; nil where all does.
func (r *Request) Check() document.Problems {
	var wrong document.Problems
	add := func(path, format string, args ...any) {
		wrong = append(wrong, document.Problem{Path: path, Message: fmt.Sprintf(format, args...)})
	}
	from, to := date(r.From), date(r.To)
	switch days := int(to.Sub(from).Hours()/24) + 1; {
	case !to.After(from):
		add("to", "%s is not after %s. Say the day it is wanted again", r.To, r.From)
	case days > MostDays:
		add("to", "%d days are more than the %d that are planned ahead. Choose a nearer day", days, MostDays)
	}
	p := &r.Place
	switch months := p.Mean != nil || p.Low != nil; {
	case p.Climate != "" && months:
		add("place.climate", "give a climate or the months, not both")
	case p.Climate == "" && !months:
		add("place", "say its monthly_mean_c and monthly_low_c, or a climate: %s", document.Quote(presetCodes()[0]))
	case p.Climate == "" && p.Mean == nil:
		add("place.monthly_mean_c", "is missing and needed beside monthly_low_c")
	case p.Climate == "" && p.Low == nil:
		add("place.monthly_low_c", "is missing and needed beside monthly_mean_c")
	case months:
		for i := range p.Mean {
			if p.Low[i] > p.Mean[i] {
				add(
					fmt.Sprintf("place.monthly_low_c[%d]", i),
					"%g °C is warmer than the mean of %s, %g °C. Check which is which",
					p.Low[i],
					time.Month(i+1),
					p.Mean[i],
				)
			}
		}
	}
	seen := map[string]bool{}
	for i, d := range p.Days {
		if seen[d.Date] {
			add(fmt.Sprintf("place.days[%d].date", i), "%s stands there twice", d.Date)
		}
		seen[d.Date] = true
		if d.MeanC != nil && d.LowC > *d.MeanC {
			add(
				fmt.Sprintf("place.days[%d].low_c", i),
				"%g °C is warmer than the mean of that day, %g °C",
				d.LowC,
				*d.MeanC,
			)
		}
	}
	if slices.Contains(r.AtHand, Nothing) && len(r.AtHand) > 1 {
		add(
			"at_hand",
			"nothing is at hand, and %s: say one of the two",
			r.AtHand[(slices.Index(r.AtHand, Nothing)+1)%len(r.AtHand)],
		)
	}
	if len(r.Looks) > 0 && r.Way == "" {
		add("way", "is needed where there are looks: how was it kept until then?")
	}
	if slices.Contains(r.AtHand, Panel) && r.Solar == nil {
		add("solar", "a panel is at hand: say its watts, and the latitude_deg of the place")
	}
	for i, l := range r.Looks {
		at := fmt.Sprintf("looks[%d]", i)
		switch {
		case l.RestVolts == nil && l.SOCPct == nil && !l.Charged && l.DriveMin == 0:
			add(at, "says nothing: give rest_volts or soc_pct, charged or drive_minutes")
		case l.RestVolts != nil && l.SOCPct != nil:
			add(at+".soc_pct", "give rest_volts or soc_pct, not both")
		case l.Date < r.From || l.Date > r.To:
			add(at+".date", "%s is outside %s to %s", l.Date, r.From, r.To)
		case i > 0 && l.Date < r.Looks[i-1].Date:
			add(at+".date", "%s comes after %s: looks stand in order", l.Date, r.Looks[i-1].Date)
		case l.RestVolts != nil:
			if most := 2.7 * battery.Cells(r.volts()); *l.RestVolts > most {
				add(
					at+".rest_volts",
					"%g V is outside 0 to %g V for a %g V battery. Check the decimal point",
					*l.RestVolts,
					most,
					r.volts(),
				)
			}
		}
	}
	return wrong
}

// volts gives the nominal volts of the one battery.
func (r *Request) volts() float64 { return reading.Case{Vehicle: r.Vehicle}.Volts() }

// hand reports whether something is at hand.
func (r *Request) hand(what string) bool { return slices.Contains(r.AtHand, what) }

// date reads a date that was checked; the zero time for none.
func date(s string) time.Time {
	t, _ := time.Parse(time.DateOnly, s)
	return t
}

// climate gives the months of the place.
func (p Place) climate() climate.Of {
	if o, ok := climate.Named(p.Climate); ok {
		return o
	}
	var o climate.Of
	copy(o.Mean[:], p.Mean)
	copy(o.Low[:], p.Low)
	return o
}

// today is the day it is asked.
func (r *Request) today() string { return cmp.Or(r.Today, r.From) }

// DecodeAt reads a request that may leave out its place, which is this one then, and its
// rules.
func DecodeAt(data []byte, place Place, r rules.Rules) (Request, error) {
	shape := requestShape
	shape.Need = slices.DeleteFunc(slices.Clone(shape.Need), func(name string) bool { return name == "place" })
	q := Request{Start: Start{HealthPct: 100}, Rules: r}
	if err := document.Decode(data, RequestFormat, shape, &q); err != nil {
		return Request{}, err
	}
	if p := q.Place; p.Climate == "" && p.Mean == nil && p.Low == nil {
		q.Place = place
		if p.Days != nil {
			q.Place.Days = p.Days
		}
	}
	q.Rules = q.Rules.For(q.Vehicle.Class)
	if wrong := q.Check(); len(wrong) > 0 {
		return Request{}, wrong.Few()
	}
	return q, nil
}

package guide

import (
	"slices"

	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// Procedures.
const (
	Cleaning  = "clean"
	Watering  = "water"
	Replacing = "replace"
	Storing   = "store"
	Waking    = "wake"
)

var procedures = words.ListOf(words.Term{Code: Cleaning, Word: "Clean"}, words.Term{Code: Watering, Word: "Water"},
	words.Term{Code: Replacing, Word: "Replace"}, words.Term{Code: Storing, Word: "Put away"}, words.Term{Code: Waking, Word: "Wake up"})

// Procedures gives what there are guides for.
func Procedures() words.List { return procedures }

// Hazard is what keeps hands off, as the bench has found it.
type Hazard struct {
	Code string
	Name words.Text
}

// Scene is what a guide is made for: this vehicle, this battery, this house, now.
type Scene struct {
	Vehicle reading.Vehicle
	Battery reading.Battery
	Rules   rules.Rules // as they hold for this class
	Hazards []Hazard
	Year    int  // now
	Site    Site // empty fields are as is usual
}

// Site is what somebody said of this vehicle and of how it is done.
type Site struct {
	Place     string   `json:"place,omitempty" enum:"front,boot,seat,side,box" doc:"where the battery stands"`
	Positive  string   `json:"positive,omitempty" enum:"left,right" doc:"where its + stands, seen from the front with the posts nearest"`
	On        []string `json:"on,omitzero" doc:"fittings that are on it; as is usual when left out"`
	KeepAlive string   `json:"keep_alive,omitempty" enum:"none,socket,leads" doc:"what feeds the vehicle meanwhile"`
	School    string   `json:"school,omitempty" enum:"bench,in_place" doc:"where it is cleaned"`
	Scope     string   `json:"scope,omitempty" enum:"contacts,lid" doc:"what is cleaned"`
	Protect   string   `json:"protect,omitempty" enum:"spray,grease" doc:"what keeps the contacts bright"`
	Full      bool     `json:"full,omitempty" doc:"it is charged: water goes to the mark at once"`
	Keep      string   `json:"keep,omitempty" enum:"clamp,switch,fed,out" doc:"how it is kept while it is stored"`
	Monitor   string   `json:"monitor,omitempty" enum:"yes,no" doc:"the vehicle counts on its battery and has to be told of a new one"`
}

// Places a battery stands in.
const (
	AtFront = "front"
	AtBoot  = "boot"
	AtSeat  = "seat"
	AtSide  = "side"
	AtBox   = "box"
)

// Ways of feeding the vehicle meanwhile.
const (
	NoKeepAlive = "none"
	BySocket    = "socket"
	ByLeads     = "leads"
)

// What is cleaned.
const (
	Contacts = "contacts"
	LidOnly  = "lid"
)

var (
	places = words.ListOf(words.Term{Code: AtFront, Word: "Under the bonnet"}, words.Term{Code: AtBoot, Word: "In the boot"},
		words.Term{Code: AtSeat, Word: "Under a seat"}, words.Term{Code: AtSide, Word: "Behind a side panel"},
		words.Term{Code: AtBox, Word: "In a box or step"})
	panelWords = map[string]string{AtFront: "cover", AtBoot: "boot floor", AtSeat: "seat", AtSide: "side panel", AtBox: "box lid"}
	keepAlives = words.ListOf(words.Term{Code: NoKeepAlive, Word: "None"}, words.Term{Code: BySocket, Word: "In a socket"},
		words.Term{Code: ByLeads, Word: "On the cables"})
	schools = words.ListOf(words.Term{Code: rules.CleanOnBench, Word: "Out, on the bench"},
		words.Term{Code: rules.CleanInPlace, Word: "In place"})
	scopes   = words.ListOf(words.Term{Code: Contacts, Word: "Contacts and lid"}, words.Term{Code: LidOnly, Word: "Lid only"})
	protects = words.ListOf(words.Term{Code: rules.ProtectSpray, Word: "Protective spray"},
		words.Term{Code: rules.ProtectGrease, Word: "A skim of grease"})
	sidesOf  = words.ListOf(words.Term{Code: "left", Word: "+ on the left"}, words.Term{Code: "right", Word: "+ on the right"})
	monitors = words.ListOf(words.Term{Code: "yes", Word: "Has to be told"}, words.Term{Code: "no", Word: "No monitor"})
)

// usualPlaces are where the battery stands in a class, the usual place first. Common
// practice, no source.
var usualPlaces = map[string][]string{
	"car": {AtFront, AtBoot, AtSeat}, "van": {AtFront, AtSeat, AtBox}, "motorcycle": {AtSeat, AtSide}, "atv": {AtSeat, AtSide},
	"mower": {AtSeat, AtFront}, "tractor": {AtFront, AtBox, AtSeat}, "hybrid": {AtBoot, AtFront,
		AtSeat}, "electric": {AtFront, AtBoot},
	"classic": {AtFront, AtSeat, AtBox}, "boat": {AtBox}, "motorhome": {AtFront, AtSeat, AtBox},
}

// memoryYears is for how many years back a vehicle is taken for one that forgets without
// current. Common practice, no source: most of the last decade or so.
const memoryYears = 12

// Forgets reports whether a vehicle loses memories without its battery: a road vehicle of
// the last dozen years, or of unknown age.
func (s *Scene) Forgets() bool {
	switch s.Vehicle.Class {
	case "car", "van", "hybrid", "electric", "motorhome":
		return s.volts() >= 12 && (s.Vehicle.MadeYear == 0 || s.Vehicle.MadeYear > s.Year-memoryYears)
	}
	return false
}

func (s *Scene) volts() float64 {
	if s.Vehicle.SystemVolts == 0 {
		return 12
	}
	return s.Vehicle.SystemVolts
}

// terminals gives the terminals, usual for the class where nobody has said.
func (s *Scene) terminals() string {
	if s.Battery.Terminals != "" {
		return s.Battery.Terminals
	}
	for _, d := range Defaults() {
		if d.Class == s.Vehicle.Class {
			return d.Battery.Terminals
		}
	}
	return "top"
}

// twins reports whether two batteries stand together, side by side or in a row.
func (s *Scene) parallel() bool { return s.Vehicle.Arrangement == "parallel" }
func (s *Scene) series() bool   { return s.Vehicle.Arrangement == "series" }

// usual puts in what is usual where nobody has said otherwise.
func (s *Scene) usual(what string) {
	t := &s.Site
	options := usualPlaces[s.Vehicle.Class]
	if len(options) == 0 {
		options = places.Codes()
	}
	if !slices.Contains(options, t.Place) {
		t.Place = options[0]
	}
	if t.Positive == "" {
		t.Positive = "right"
	}
	if t.On == nil {
		t.On = s.usualFittings()
	}
	if t.Keep == "" {
		t.Keep = s.usualKeep()
	}
	if t.KeepAlive == "" || s.volts() < 12 {
		t.KeepAlive = s.usualKeepAlive()
	}
	if t.School == "" {
		t.School = s.Rules.CleanPlace
	}
	if t.Scope == "" {
		t.Scope = Contacts
	}
	if t.Protect == "" {
		t.Protect = s.Rules.Protection
	}
	if t.Monitor == "" {
		t.Monitor = "no"
		if s.Vehicle.StopStart || slices.Contains(t.On, Sensor) {
			t.Monitor = "yes"
		}
	}
	if !s.disconnects(what) {
		t.KeepAlive = NoKeepAlive
	}
}

func (s *Scene) usualKeepAlive() string {
	if s.volts() >= 12 && (s.Forgets() || s.Rules.KeepAlive == rules.KeepAliveAlways) {
		return BySocket
	}
	return NoKeepAlive
}

// disconnects reports whether a procedure takes the cables off.
func (s *Scene) disconnects(what string) bool {
	// What is put away is without current for a season: nothing feeds it meanwhile.
	return what == Replacing || what == Cleaning && s.Site.Scope != LidOnly
}

// usualFittings are the fittings usual for a class and place. Common practice, no source.
func (s *Scene) usualFittings() []string {
	on := []string{}
	road := slices.Contains([]string{"car", "van", "hybrid", "electric", "motorhome"}, s.Vehicle.Class)
	if s.Site.Place != AtFront || s.Vehicle.Electric() {
		on = append(on, Panel)
	}
	if road || s.Vehicle.Class == "motorcycle" || s.Vehicle.Class == "atv" {
		on = append(on, Cover)
	}
	if s.Vehicle.StopStart {
		on = append(on, Sensor)
	}
	if s.Vehicle.Class == "motorcycle" || s.Vehicle.Class == "atv" {
		on = append(on, Strap)
	}
	if road && s.Site.Place != AtFront {
		on = append(on, VentTube, Elbow, Plug)
	}
	return on
}

// Ask is something a guide is chosen by: one of a few answers, or several.
type Ask struct {
	Field   string       `json:"field" enum:"place,positive,on,keep_alive,school,scope,protect,monitor,keep"`
	Ask     string       `json:"ask"`
	Hint    words.Text   `json:"hint,omitzero"`
	Several bool         `json:"several,omitempty"`
	Options []words.Term `json:"options"`
	Chosen  []string     `json:"chosen"`
}

// asks gives what a procedure asks of this scene, with what is chosen.
func (s *Scene) asks(what string) []Ask {
	var out []Ask
	one := func(field, ask string, l words.List, codes []string, chosen string, hint words.Text) {
		var options []words.Term
		for _, t := range l.Terms() {
			if codes == nil || slices.Contains(codes, t.Code) {
				options = append(options, t)
			}
		}
		if len(options) > 1 {
			out = append(out, Ask{Field: field, Ask: ask, Hint: hint, Options: options, Chosen: []string{chosen}})
		}
	}
	t := s.Site
	if what == Watering {
		return []Ask{}
	}
	if what == Cleaning {
		one("scope", "What is dirty?", scopes, nil, t.Scope, words.Text{})
		if t.Scope == LidOnly {
			return out
		}
	}
	if keeps(what) {
		one("keep", "How is it kept?", keptWays, nil, t.Keep, words.Text{})
		if t.Keep != KeptClamp && t.Keep != KeptOut {
			return out
		}
	}
	one("place", "Where does it stand?", places, usualPlaces[s.Vehicle.Class], t.Place, words.Text{})
	one("positive", "Seen from the front, posts nearest", sidesOf, nil, t.Positive, words.Text{})
	out = append(out, Ask{Field: "on", Ask: "What is on it? Look, then tap.", Several: true, Options: fittings.Terms(),
		Chosen: slices.Clone(t.On)})
	if what == Cleaning {
		one("school", "Where is it cleaned?", schools, nil, t.School, words.Text{})
	}
	if s.volts() >= 12 && !keeps(what) {
		one("keep_alive", "Keep-alive", keepAlives, nil, t.KeepAlive, s.keepAliveHint())
	}
	if s.terminals() != "side" && what != Storing {
		one("protect", "Against corrosion", protects, nil, t.Protect, words.Text{})
	}
	if what == Replacing {
		one("monitor", "Battery monitor", monitors, nil, t.Monitor, words.Text{})
	}
	return out
}

// keepAliveHint says what is usual, and why.
func (s *Scene) keepAliveHint() words.Text {
	switch {
	case s.Vehicle.Electric():
		return words.Say("Its maker says whether and where. Never with the vehicle ready to drive.")
	case s.Forgets() && s.Vehicle.MadeYear == 0:
		return words.Say("Year unknown: take one. It does no harm on an older vehicle.")
	case s.Forgets():
		return words.Say("Made {year}: it forgets clock, windows, seats and radio without one.", "year", s.Vehicle.MadeYear)
	}
	return words.Say("Nothing here forgets. One does no harm.")
}

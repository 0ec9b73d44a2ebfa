package station

import (
	"cmp"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/energy"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Flow is a week's account as it is drawn: what comes in, what goes out, where the
// charge settles, and the single changes worth making.
type Flow struct {
	Settles  battery.Band `json:"settles_pct" doc:"charge that weeks like this end at, percent"`
	Level    bench.Level  `json:"level" enum:"ok,note,act,stop"`
	Word     words.Text   `json:"word" doc:"that charge in a sentence"`
	InAh     float64      `json:"in_ah" doc:"all that comes in, a week"`
	OutAh    float64      `json:"out_ah"`
	In       []FlowLine   `json:"in"`
	Out      []FlowLine   `json:"out" doc:"the largest first"`
	Lasts    words.Text   `json:"lasts,omitzero" doc:"how long a full battery lasts in such weeks, where it does not keep up"`
	Taken    words.Text   `json:"taken" doc:"what of it was measured"`
	From     float64      `json:"from_pct" doc:"the charge a fair test needs, percent"`
	Levers   []FlowLever  `json:"levers" doc:"single changes, the one that helps most first"`
	Customer words.Text   `json:"customer" doc:"a sentence for who drives it"`
}

// FlowLine is one stream.
type FlowLine struct {
	Code  string     `json:"code"`
	Name  words.Text `json:"name"`
	Ah    float64    `json:"ah" doc:"a week"`
	Times float64    `json:"times,omitempty" doc:"of trips: how often a week"`
}

// FlowLever is one change and where it leads.
type FlowLever struct {
	Code    string      `json:"code"`
	Name    words.Text  `json:"name"`
	More    words.Text  `json:"more"`
	Settles float64     `json:"settles_pct"`
	Level   bench.Level `json:"level" enum:"ok,note,act,stop"`
}

// mostLevers is how many changes are drawn.
const mostLevers = 3

// flowOf draws the week that was told; nil where none was.
func flowOf(b *bench.Bench) *Flow {
	f := b.Fed()
	if f == nil {
		return nil
	}
	in, out := f.Account.Sums()
	flow := &Flow{
		Settles: f.Account.Settles, Level: weekLevel(b, f), InAh: in, OutAh: out, From: b.House.LoadTestMinSOC,
		In: []FlowLine{}, Out: []FlowLine{}, Levers: []FlowLever{}, Taken: taken(f), Word: tellWeek(b)[0].Text,
	}
	for _, l := range f.Account.Lines {
		line := FlowLine{Code: l.Code, Name: lineName(f, l), Ah: max(l.Ah, -l.Ah)}
		if l.Code == "trips" || l.Code == "idling" || l.Code == "loads" {
			line.Times = f.Week.Trips[l.Trip].Times
		}
		if l.Ah >= 0 && l.Code != "self_discharge" {
			flow.In = append(flow.In, line)
		} else {
			flow.Out = append(flow.Out, line)
		}
	}
	slices.SortStableFunc(flow.Out, func(a, b FlowLine) int { return cmp.Compare(b.Ah, a.Ah) })
	if weeks := f.Account.EmptyWeeks; weeks > 0 {
		flow.Lasts = words.Say(saysLasts, "time", measure.Minutes(max(1, weeks*7)*24*60))
		if weeks >= 104 {
			flow.Lasts = words.Text{}
		}
	}
	levers := energy.Levers(f.Week)
	for _, l := range levers[:min(len(levers), mostLevers)] {
		at := bench.Fed{Account: energy.Account{Settles: battery.Band{Best: l.Settles}}}
		flow.Levers = append(flow.Levers, FlowLever{Code: l.Code, Settles: l.Settles, Level: weekLevel(b, &at),
			Name: words.Say(leverName[l.Code]), More: leverMore(l, f)})
	}
	flow.Customer = tellCustomer(flow, f)
	return flow
}

func lineName(f *bench.Fed, l energy.Line) words.Text {
	switch l.Code {
	case "trips", "idling", "loads":
		t := f.Week.Trips[l.Trip]
		minutes := measure.Minutes(t.Minutes)
		switch {
		case l.Code == "loads":
			return words.Say(lineLoads, "minutes", minutes)
		case t.Times == 1:
			return words.Say(lineTrip, "minutes", minutes)
		}
		return words.Say(lineTrips, "times", measure.Plain(t.Times, measure.Exact), "minutes", minutes)
	case "drain":
		return words.Say(lineDrain, "drain", milliamps(f.Week.Vehicle.DrainMilliamps))
	case "cranks":
		starts := 0.0
		for _, t := range f.Week.Trips {
			starts += t.Times
		}
		return words.Say(lineCranks, "starts", measure.Plain(starts, measure.Exact))
	case "charger":
		return words.Say(lineCharger, "nights", measure.Plain(f.Week.Nights, measure.Exact))
	}
	return words.Say(lineSelf)
}

func leverMore(l energy.Lever, f *bench.Fed) words.Text {
	switch l.Code {
	case "drive":
		return words.Say(moreDrive, "minutes", measure.Minutes(energy.DriveMinutes))
	case "night":
		return words.Say(moreNight, "amps", measure.Of(l.Week.ChargerAmps, measure.Amp, 0))
	case "drain":
		return words.Say(moreDrain, "now", milliamps(f.Week.Vehicle.DrainMilliamps), "then", milliamps(l.Week.Vehicle.DrainMilliamps))
	}
	return words.Say(moreMaintainer, "amps", measure.Of(energy.MaintainerAmps, measure.Amp, 0))
}

// tellCustomer says in plain words why it is where it is, and what one change does.
func tellCustomer(flow *Flow, f *bench.Fed) words.Text {
	if flow.Level == bench.OK {
		return words.Say(customerFed)
	}
	why := customerShort
	if len(flow.Out) > 0 {
		switch flow.Out[0].Code {
		case "drain":
			why = customerDrain
		case "loads":
			why = customerLoads
		}
	}
	if f.Week.Vehicle.AlternatorVolts == 0 {
		why = customerNoCharge
	}
	if len(flow.Levers) == 0 {
		return words.Say("{why} {then}", "why", words.Say(why), "then", words.Say(customerNothing))
	}
	best := flow.Levers[0]
	return words.Say("{why} {then}", "why", words.Say(why), "then",
		words.Say(customerLever[best.Code], "settles", measure.Percents(best.Settles), "minutes", measure.Minutes(energy.DriveMinutes)))
}

var leverName = map[string]string{
	"drive": "One drive more", "night": "One night on charge", "drain": "Less drain", "maintainer": "A maintainer",
}

var customerLever = map[string]string{
	"drive":      "One drive of {minutes} more each week keeps it at {settles}.",
	"night":      "Put it on a charger one night a week and it stays at {settles}.",
	"drain":      "Once what stays on is found and switched off, it stays at {settles}.",
	"maintainer": "With a maintainer on it whenever it stands, it stays at {settles}.",
}

const (
	saysLasts        = "From full it no longer starts in about {time}."
	lineTrips        = "{times} trips of {minutes}"
	lineTrip         = "one drive of {minutes}"
	lineLoads        = "what is on for {minutes} beyond what it makes"
	lineDrain        = "standing drain, {drain}"
	lineCranks       = "{starts} starts"
	lineCharger      = "{nights} nights on a charger"
	lineSelf         = "self-discharge"
	moreDrive        = "{minutes} on the road, once a week"
	moreNight        = "once a week, at {amps}"
	moreDrain        = "{now} down to {then}"
	moreMaintainer   = "{amps}, whenever it stands"
	customerFed      = "Used like this, your drives keep the battery charged."
	customerDrain    = "Parked, it uses more than your drives put back."
	customerLoads    = "In traffic it uses more than it makes; the battery pays the difference."
	customerShort    = "Your drives are too short to put back what they take."
	customerNoCharge = "It does not charge while it runs: that comes first."
	customerNothing  = "No single change is enough: it wants two of them."
)

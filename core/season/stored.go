package season

import (
	"slices"
	"strings"
	"time"

	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// Stored is a battery that stands, as the shop keeps it: what is asked of its season, and
// where on a lot it is.
type Stored struct {
	Vehicle    reading.Vehicle `json:"vehicle"`
	Battery    reading.Battery `json:"battery"`
	Start      Start           `json:"start"`
	From       string          `json:"from"`
	To         string          `json:"to"`
	DrainMA    *float64        `json:"drain_ma,omitempty"`
	AtHand     []string        `json:"at_hand"`
	Solar      *Solar          `json:"solar,omitempty"`
	IndoorsC   *float64        `json:"indoors_c,omitempty"`
	Maintainer *Maintainer     `json:"maintainer,omitempty"`
	MayDrive   *bool           `json:"may_drive,omitempty"`
	Ready      bool            `json:"ready_any_day,omitempty"`
	Way        string          `json:"way"`
	Lot        string          `json:"lot,omitempty"`
	Row        string          `json:"row,omitempty"`
	Bay        int             `json:"bay,omitempty"`
	Promised   string          `json:"promised,omitempty"`
	Arrived    string          `json:"arrived,omitempty"` // on the lot, and not tested before a first look
	Note       string          `json:"note,omitempty"`
}

// MostStored is how many batteries of a workshop stand at a time.
const MostStored = 1000

// MostBays is the highest number of a place in a row.
const MostBays = 9999

var storedShape = func() document.Shape {
	fields := map[string]document.Shape{}
	for name, f := range requestShape.Fields {
		if !slices.Contains([]string{"format", "place", "today", "looks", "rules"}, name) {
			fields[name] = f
		}
	}
	fields["lot"] = document.Text(40).About("where several stand together")
	fields["row"] = document.Text(20)
	fields["bay"] = document.Shape{Kind: "integer", Min: 0, Max: MostBays, Null: true}.About("its place in the row")
	fields["promised"] = document.Shape{Kind: "date", Null: true}.About("the day it is to drive")
	fields["arrived"] = document.Shape{Kind: "date", Null: true}.About("the day it came onto the lot")
	fields["note"] = document.Text(300)
	return document.Object([]string{"vehicle", "battery", "start", "from", "to", "way"}, fields)
}()

// StoredShape describes a stored battery, for the HTTP interface.
func StoredShape() document.Shape { return storedShape }

// DecodeStored reads a stored battery; see document.Decode for what its error lists.
func DecodeStored(data []byte) (Stored, error) {
	s := Stored{Start: Start{HealthPct: 100}}
	if err := document.Decode(data, "stored battery", storedShape, &s); err != nil {
		return Stored{}, err
	}
	return s.Clean()
}

// Clean gives it as it is kept, or says what does not go together.
func (s Stored) Clean() (Stored, error) {
	s.Lot, s.Row, s.Note = words.Clean(s.Lot), words.Clean(s.Row), words.Clean(s.Note)
	if s.AtHand == nil {
		s.AtHand = []string{}
	}
	r := s.Request(Place{Climate: presetCodes()[0]}, "", nil, rules.Default())
	r.From = s.From // whole, however long
	wrong := r.Check()
	if need, ok := neededFor[s.Way]; ok &&
		!slices.ContainsFunc(need, func(n string) bool { return slices.Contains(s.AtHand, n) }) {
		wrong = append(
			wrong,
			document.Problem{
				Path:    "way",
				Message: waysOf.Word(s.Way) + ": say in at_hand what it is kept with, " + document.Quote(need[0]),
			},
		)
	}
	if len(wrong) > 0 {
		return Stored{}, wrong.Few()
	}
	return s, nil
}

// neededFor is what has to be at hand for a way.
var neededFor = map[string][]string{
	ChargeEvery: {Mains},
	Maintained:  {Mains, LiveSocket},
	BySun:       {Panel},
	TakenIn:     {Indoors},
}

// wakeDays is how many days a plan goes on past the day it was wanted, where nobody has
// fetched it.
const wakeDays = 7

// Request makes the request of its season as of a day. Of one that stands longer than was
// said the season goes on.
func (s Stored) Request(place Place, today string, looks []Look, r rules.Rules) Request {
	to := s.To
	if today >= to {
		to = date(today).AddDate(0, 0, wakeDays).Format(time.DateOnly)
	}
	// One that stands for years is looked at from where it was last seen full.
	from, start := s.From, s.Start
	for date(to).Sub(date(from)) > (MostDays-1)*24*time.Hour {
		from = date(to).AddDate(0, 0, 1-MostDays).Format(time.DateOnly)
	}
	kept := make([]Look, 0, len(looks))
	for _, l := range looks {
		if l.Date >= from && l.Date <= to {
			kept = append(kept, l)
		}
	}
	if n := len(kept); n > MostLooks {
		kept = kept[n-MostLooks:]
	}
	return Request{
		Format:     RequestFormat,
		Vehicle:    s.Vehicle,
		Battery:    s.Battery,
		Start:      start,
		From:       from,
		To:         to,
		Place:      place,
		DrainMA:    s.DrainMA,
		AtHand:     s.AtHand,
		Solar:      s.Solar,
		IndoorsC:   s.IndoorsC,
		Maintainer: s.Maintainer,
		MayDrive:   s.MayDrive,
		Ready:      s.Ready,
		Way:        s.Way,
		Today:      max(today, from),
		Looks:      kept,
		Rules:      r.For(s.Vehicle.Class),
	}
}

// Spot gives it as a place of a lot, with how it is followed. Tested says that somebody
// looked at it since it came.
func (s Stored) Spot(id string, f Followed, tested bool) Spot {
	label := s.Battery.Rating.Label()
	if label.CCA == 0 && label.Ah20h == 0 {
		label = usualLabel(s.Vehicle.Class)
	}
	out := Spot{
		ID:        id,
		Tag:       s.Battery.Tag,
		Name:      s.Vehicle.Name,
		Row:       s.Row,
		Bay:       s.Bay,
		Arrived:   s.Arrived,
		Tested:    tested || s.Arrived == "",
		Promised:  s.Promised,
		Chemistry: s.Battery.Chemistry,
		Volts:     reading.Case{Vehicle: s.Vehicle}.Volts(),
		Ah:        label.Ah20h,
		CCA:       label.CCA,
		SOC:       f.State.SOC,
		ChargeBy:  f.By,
		StopOn:    f.Stop,
	}
	if f.Next != nil && f.Next.Code == "look" {
		out.LookOn = f.Next.Date
	}
	if f.Next != nil && f.Next.Code == "charge" && (out.ChargeBy == "" || f.Next.Date < out.ChargeBy) {
		out.ChargeBy = f.Next.Date
	}
	return out
}

// Proposed is a season as it is usual for a vehicle: until spring, and from a full battery.
func Proposed(v reading.Vehicle, b reading.Battery, today time.Time) Stored {
	to := time.Date(today.Year(), time.April, 1, 0, 0, 0, 0, time.UTC)
	if !to.After(today.AddDate(0, 1, 0)) {
		to = to.AddDate(1, 0, 0)
	}
	return Stored{
		Vehicle: v,
		Battery: b,
		Start:   Start{SOCPct: 100, HealthPct: 100},
		From:    today.Format(time.DateOnly),
		To:      to.Format(time.DateOnly),
		AtHand:  []string{Mains},
		Way:     Connected,
	}
}

// CheckLook says what of a look at it does not go together; nil where all does.
func (s Stored) CheckLook(l Look, today string) error {
	if l.Date > today {
		return document.Problems{{Path: "at", Message: l.Date + " is ahead of today. Check the clock of this device"}}
	}
	if l.Date < s.From {
		return document.Problems{
			{Path: "at", Message: l.Date + " is before it was put away, on " + s.From + ". Change that date first"},
		}
	}
	r := s.Request(Place{Climate: presetCodes()[0]}, today, []Look{l}, rules.Default())
	wrong := r.Check()
	for i := range wrong {
		wrong[i].Path = strings.TrimPrefix(wrong[i].Path, "looks[0].")
		if wrong[i].Path == "looks[0]" {
			wrong[i].Path = ""
		}
	}
	if len(wrong) > 0 {
		return wrong.Few()
	}
	return nil
}

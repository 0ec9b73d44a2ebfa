package demo

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"time"

	"grapnel/core/battery"
	"grapnel/core/climate"
	"grapnel/core/reading"
	"grapnel/core/season"
	"grapnel/internal/store"
)

// uplandMean is how warm the months of the valley are, °C.
var uplandMean = climate.Months{-3, -2, 2, 6, 11, 14, 16, 16, 12, 7, 2, -2}

// Days of weather the demo knows: back from today, and as they are forecast.
const weatherBack, weatherAhead = 75, 9

// coldSnap is how much colder than usual the forecast nights are, from tomorrow on.
var coldSnap = [weatherAhead]float64{3, 1, -1, -3.5, -2.5, 1, 3, 4, 4}

// weather gives the valley's days.
func (f filler) weather() []climate.Weather {
	rnd := rand.New(rand.NewPCG(9, 75))
	var out []climate.Weather
	drift := 0.0
	for n := -weatherBack; n <= weatherAhead; n++ {
		day := f.now.AddDate(0, 0, n)
		noon := time.Date(day.Year(), day.Month(), day.Day(), 12, 0, 0, 0, time.UTC)
		drift = 0.7*drift + 2.4*(rnd.Float64()-0.42)
		low := upland.At(noon) + 4 + 1.8*drift
		if n > 0 {
			low = upland.At(noon) + coldSnap[n-1]
		}
		low = math.Round(10*low) / 10
		mean := math.Round(10*min(uplandMean.At(noon)+drift, low+9)) / 10
		mean = max(low, mean)
		out = append(out, climate.Weather{Date: day.Format(time.DateOnly), LowC: low, MeanC: &mean})
	}
	return out
}

// standing is a battery that stands this morning.
type standing struct {
	tag, vehicle, class, fuel string
	volts                     float64 // of the system; 0 is 12
	earth                     string
	chem                      battery.Chemistry
	cca, ah                   float64
	soc, health               float64
	since, until              int // days
	drain                     float64
	hand                      []string
	way                       string
	looks                     []lookedAt
	ready                     bool
	maintainer                float64 // A; 0 for none said
}

// lookedAt is what was seen some days ago.
type lookedAt struct {
	ago     int
	volts   float64
	charged bool
}

var mains, shed = []string{season.Mains}, []string{season.Mains, season.Indoors}

// What stands this morning, but for the lot.
var standings = []standing{
	{
		"K-0140",
		"Parks mower 1",
		"mower",
		"petrol",
		0,
		"",
		flooded,
		300,
		28,
		100,
		92,
		51,
		128,
		8,
		shed,
		season.Disconnected,
		[]lookedAt{{19, 12.60, false}},
		false,
		0,
	},
	{
		"K-0141",
		"Parks mower 2",
		"mower",
		"petrol",
		0,
		"",
		flooded,
		300,
		28,
		100,
		92,
		46,
		128,
		8,
		mains,
		season.Connected,
		[]lookedAt{{25, 12.43, false}, {4, 12.24, false}},
		false,
		0,
	},
	{
		"K-0151",
		"Riding tractor 2",
		"mower",
		"petrol",
		0,
		"",
		flooded,
		350,
		32,
		96,
		80,
		37,
		128,
		6,
		shed,
		season.Disconnected,
		nil,
		false,
		0,
	},
	{
		"K-0087",
		"Stored coupé",
		"car",
		"petrol",
		0,
		"",
		calcium,
		540,
		60,
		100,
		88,
		58,
		128,
		18,
		[]string{season.Mains, season.Switch},
		season.Maintained,
		[]lookedAt{{20, 12.74, false}},
		false,
		0.8,
	},
	{
		"K-0111",
		"Parks tractor, 1950s",
		"tractor",
		"petrol",
		6,
		"positive",
		flooded,
		420,
		70,
		82,
		75,
		30,
		128,
		1,
		shed,
		season.Disconnected,
		nil,
		false,
		0,
	},
	{
		"K-0156",
		"Rescue ATV 2",
		"atv",
		"petrol",
		0,
		"",
		agm,
		270,
		14,
		100,
		90,
		27,
		60,
		12,
		mains,
		season.Connected,
		nil,
		false,
		0,
	},
	{
		"K-0157",
		"Courier motorcycle 4",
		"motorcycle",
		"petrol",
		0,
		"",
		agm,
		180,
		10,
		100,
		95,
		30,
		128,
		2,
		shed,
		season.TakenIn,
		nil,
		false,
		0,
	},
	{
		"K-0158",
		"Electric van 2, 12 V",
		"electric",
		"none",
		0,
		"",
		agm,
		380,
		45,
		100,
		95,
		45,
		40,
		18,
		mains,
		season.ChargeEvery,
		[]lookedAt{{31, 0, true}, {10, 0, true}},
		false,
		0,
	},
	{
		"K-0159",
		"Ambulance 3, spare",
		"van",
		"diesel",
		0,
		"",
		agm,
		850,
		95,
		100,
		97,
		70,
		120,
		35,
		mains,
		season.Maintained,
		[]lookedAt{{12, 12.92, false}},
		true,
		3,
	},
}

// The yard of new council vehicles.
const (
	yard     = "Council yard"
	yardSize = 30
)

// stands puts away what stands this morning, with the weather and the yard.
func (f filler) stands(ctx context.Context, by string) error {
	actor := store.Actor{ID: id(by)}
	if err := f.s.SetWeather(ctx, f.ws, actor, f.weather()); err != nil {
		return err
	}
	day := func(n int) string { return f.now.AddDate(0, 0, n).Format(time.DateOnly) }
	for _, u := range standings {
		cca, ah, drain := u.cca, u.ah, u.drain
		doc := season.Stored{
			Vehicle: reading.Vehicle{
				Class:       u.class,
				Name:        u.vehicle,
				Fuel:        u.fuel,
				SystemVolts: u.volts,
				Earth:       u.earth,
			},
			Battery: reading.Battery{
				Tag:       u.tag,
				Chemistry: u.chem,
				Caps:      u.chem.Caps(),
				Rating:    reading.Rating{CCA: &cca, Ah20h: &ah, Standard: "SAE"},
			},
			Start: season.Start{
				SOCPct:    u.soc,
				HealthPct: u.health,
			},
			From:    day(-u.since),
			To:      day(u.until),
			DrainMA: &drain,
			AtHand:  u.hand,
			Way:     u.way,
			Ready:   u.ready,
		}
		if u.maintainer > 0 {
			doc.Maintainer = &season.Maintainer{Kind: season.KindMaintainer, Amps: u.maintainer}
		}
		if err := f.putAway(ctx, actor, doc, u.looks); err != nil {
			return err
		}
	}
	rnd := rand.New(rand.NewPCG(30, 1))
	for i := range yardSize {
		doc, looks := f.parked(i, rnd, day)
		if err := f.putAway(ctx, actor, doc, looks); err != nil {
			return err
		}
	}
	return nil
}

// parked is one vehicle of the yard.
func (f filler) parked(i int, rnd *rand.Rand, day func(int) string) (season.Stored, []lookedAt) {
	kinds := []struct {
		name, class, fuel string
		chem              battery.Chemistry
		cca, ah, drain    float64
	}{{"Pool car", "car", "petrol", calcium, 540, 60, 16}, {"Care van", "van", "diesel", agm, 760, 80, 22}, {"Warden’s car", "electric", "none", agm, 380, 45, 14}}
	k := kinds[i%len(kinds)]
	since := 4 + rnd.IntN(50)
	cca, ah, drain := k.cca, k.ah, k.drain
	doc := season.Stored{
		Vehicle: reading.Vehicle{Class: k.class, Name: fmt.Sprintf("%s %d", k.name, 1+i/len(kinds)), Fuel: k.fuel},
		Battery: reading.Battery{Tag: fmt.Sprintf("Y-%02d", i+1), Chemistry: k.chem, Caps: k.chem.Caps(),
			Rating: reading.Rating{CCA: &cca, Ah20h: &ah, Standard: "SAE"}},
		Start: season.Start{
			SOCPct:    96,
			HealthPct: 100,
		},
		From:    day(-since),
		To:      day(90),
		DrainMA: &drain,
		AtHand:  mains,
		Way:     season.Connected,
		Lot:     yard,
		Row:     string(rune('A' + i/10)),
		Bay:     1 + i%10,
	}
	var looks []lookedAt
	switch {
	case i%10 == 7:
		doc.Arrived, doc.From, doc.Start.SOCPct = day(0), day(-1), 85
	case since > 20:
		looks = []lookedAt{{since - 12 - rnd.IntN(8), 0, i%2 == 0}}
		if !looks[0].charged {
			looks[0].volts = 12.52
		}
	}
	if i%8 == 3 {
		doc.Promised = day(2 + rnd.IntN(6))
	}
	return doc, looks
}

func (f filler) putAway(ctx context.Context, by store.Actor, doc season.Stored, looks []lookedAt) error {
	one := store.Stored{ID: id("stored " + doc.Battery.Tag), Doc: doc, SameBattery: true}
	if err := f.s.PutAway(ctx, f.ws, by, []store.Stored{one}); err != nil {
		return err
	}
	for n, l := range looks {
		at := f.now.AddDate(0, 0, -l.ago)
		look := season.Look{Date: at.Format(time.DateOnly), Charged: l.charged}
		if l.volts > 0 {
			volts := l.volts
			look.RestVolts = &volts
		}
		if err := f.s.AddLook(ctx, f.ws, store.StoredLook{ID: id(fmt.Sprintf("look %d %s", n, doc.Battery.Tag)), StoredID: one.ID, Look: look, At: at,
			ByID: by.ID}); err != nil {
			return err
		}
	}
	return nil
}

package reading

import (
	"encoding/json"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"
	"time"
)

func TestReadingComesBackFromJSON(t *testing.T) {
	at := time.Date(2026, 1, 5, 9, 41, 0, 0, time.UTC)
	r := Of("hydrometer", Fields{"cells_sg": []float64{1.26, 1.255}, "level": "covered", "acid_c": 21, "ok": true,
		"found": []string{"a"}})
	r.At, r.By = &at, "Ines"
	raw, err := json.Marshal(r)
	if err != nil {
		t.Fatal(err)
	}
	want := `{"kind":"hydrometer","at":"2026-01-05T09:41:00Z","by":"Ines","acid_c":21,"cells_sg":[1.26,1.255],"found":["a"],"level":"covered","ok":true}`
	if string(raw) != want {
		t.Errorf("written as\n%s, want\n%s", raw, want)
	}
	var back Reading
	if err := json.Unmarshal(raw, &back); err != nil || !reflect.DeepEqual(r, back) {
		t.Errorf("came back as %+v, %v", back, err)
	}
	if sg := back.Numbers("cells_sg"); len(sg) != 2 || back.Word("level") != "covered" || back.Or("acid_c",
		0) != 21 || len(back.Words("found")) != 1 {
		t.Errorf("%+v", back)
	}
	if v, ok := back.Flag("ok"); !v || !ok {
		t.Error("the flag is gone")
	}
	if _, ok := back.Number("level"); ok || back.Or("volts", 3) != 3 {
		t.Error("a figure that was not taken")
	}
}

func TestReadingRefusesWhatItCannotHold(t *testing.T) {
	for _, raw := range []string{
		`{"kind":"x","a":{"b":1}}`, `{"kind":"x","a":[[1]]}`, `{"kind":"x","a":[1,"b"]}`, `{"kind":3}`, `{"kind":"x","at":"noon"}`, `[1]`,
	} {
		var r Reading
		if err := json.Unmarshal([]byte(raw), &r); err == nil {
			t.Errorf("%s is taken as %+v", raw, r)
		}
	}
	var r Reading
	if err := json.Unmarshal([]byte(`{"kind":"x","a":null,"b":1}`), &r); err != nil || !reflect.DeepEqual(r, Of("x",
		Fields{"b": 1})) {
		t.Errorf("a null counts as left out: %+v, %v", r, err)
	}
}

// With gives another reading and leaves the first as it was.
func TestReadingsAreNeverChanged(t *testing.T) {
	first := Of("rest_voltage", Fields{"volts": 12.4})
	second := first.With("volts", 12.6).With("surface_charge", "rested")
	if first.Or("volts", 0) != 12.4 || first.Word("surface_charge") != "" || second.Or("volts", 0) != 12.6 {
		t.Errorf("%+v, %+v", first, second)
	}
	if third := second.With("volts", nil); third.Or("volts", -1) != -1 || second.Or("volts", 0) != 12.6 {
		t.Errorf("%+v", third)
	}
}

// A correction stands where the reading stood that it corrects, also a correction
// of a correction; the log itself keeps its order.
func TestInEffect(t *testing.T) {
	log := []Entry{{ID: "a", Place: 1}, {ID: "b", Place: 2}, {ID: "c", Place: 3}}
	log = WithEntry(log, Entry{ID: "a2", Replaces: "a"})
	log = WithEntry(log, Entry{ID: "d"})
	log = WithEntry(log, Entry{ID: "a3", Replaces: "a2"})
	var ids []string
	for _, i := range InEffect(log) {
		ids = append(ids, log[i].ID)
	}
	if !slices.Equal(ids, []string{"a3", "b", "c", "d"}) {
		t.Errorf("in effect: %v", ids)
	}
	if log[0].ID != "a" || len(log) != 6 {
		t.Errorf("the log became %+v", log)
	}
}

// Of any log, each chain of corrections has one entry in effect.
func TestInEffectKeepsOneOfEachChain(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for range 500 {
		var log []Entry
		root := map[string]string{}
		for n := range 1 + rng.IntN(12) {
			e := Entry{ID: string(rune('a' + n))}
			root[e.ID] = e.ID
			if open := InEffect(log); len(open) > 0 && rng.IntN(2) == 0 {
				e.Replaces = log[open[rng.IntN(len(open))]].ID
				root[e.ID] = root[e.Replaces]
			}
			log = WithEntry(log, e)
		}
		seen := map[string]bool{}
		for _, i := range InEffect(log) {
			if seen[root[log[i].ID]] {
				t.Fatalf("two in effect of one chain: %+v", log)
			}
			seen[root[log[i].ID]] = true
		}
		for id := range root {
			if !seen[root[id]] {
				t.Fatalf("%s left no reading in effect: %+v", id, log)
			}
		}
	}
}

func TestVoltsOfOneBattery(t *testing.T) {
	for _, c := range []struct {
		v    Vehicle
		want float64
	}{{Vehicle{}, 12}, {Vehicle{SystemVolts: 6}, 6}, {Vehicle{SystemVolts: 24, Arrangement: "series"}, 12},
		{Vehicle{SystemVolts: 12, Arrangement: "parallel"}, 12}, {Vehicle{SystemVolts: 12, Arrangement: "series"}, 6}} {
		if got := (Case{Vehicle: c.v}).Volts(); got != c.want {
			t.Errorf("%+v: %g V", c.v, got)
		}
	}
}

// The tester's own temperature comes first, then the battery's, then the shop's;
// only the battery's own is not assumed.
func TestTemperatureOfABattery(t *testing.T) {
	own, bat, shop := 1.0, 2.0, 3.0
	c := Case{}
	for _, step := range []struct {
		set     func()
		own     *float64
		want    float64
		assumed bool
	}{
		{func() {}, nil, 20, true}, {func() { c.Conditions.AmbientC = &shop }, nil, 3, true},
		{func() { c.Conditions.BatteryC = &bat }, nil, 2, false}, {func() {}, &own, 1, false},
	} {
		step.set()
		if got, assumed := c.TempC(step.own); got != step.want || assumed != step.assumed {
			t.Errorf("%g °C, assumed %t; want %g, %t", got, assumed, step.want, step.assumed)
		}
	}
}

func TestElectricAndSameLabel(t *testing.T) {
	for _, v := range []Vehicle{{Class: "hybrid"}, {Class: "electric"}, {Class: "car", HighVoltage: true}} {
		if !v.Electric() {
			t.Errorf("%+v has a high-voltage system", v)
		}
	}
	if (Vehicle{Class: "car"}).Electric() {
		t.Error("a car has none")
	}
	cca, other := 540.0, 541.0
	a := Battery{Chemistry: "agm", Rating: Rating{CCA: &cca}, Made: "2024-01"}
	b := a
	b.Tag, b.Fitted = "K-1", "2024-02"
	if !a.SameLabel(b) {
		t.Error("a tag is not on the label")
	}
	for name, change := range map[string]func(*Battery){
		"chemistry": func(b *Battery) { b.Chemistry = "gel" }, "rating": func(b *Battery) { b.Rating.CCA = &other },
		"made": func(b *Battery) { b.Made = "2024-03" },
	} {
		c := a
		change(&c)
		if a.SameLabel(c) {
			t.Errorf("another %s is another label", name)
		}
	}
}

// What is taken back counts no more, nor does the taking back; a correction that is
// taken back does not bring back what it corrected.
func TestWithdrawn(t *testing.T) {
	log := []Entry{{ID: "a", Place: 1}, {ID: "b", Place: 2}}
	log = WithEntry(log, Entry{ID: "c", Replaces: "b"})
	if got := InEffect(log); !slices.Equal(got, []int{0, 2}) {
		t.Fatalf("%v", got)
	}
	log = WithEntry(log, Entry{ID: "d", Replaces: "c", Reading: Of(Withdrawn, nil)})
	if got := InEffect(log); !slices.Equal(got, []int{0}) {
		t.Errorf("%v", got)
	}
}

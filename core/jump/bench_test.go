package jump

import (
	"os"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/engine"
	"grapnel/core/rating"
	"grapnel/core/words"
)

func someCircuit(t testing.TB) *Circuit {
	b, _, err := battery.FromLabel(battery.Flooded, 6, rating.Label{CCA: 540, Ah20h: 60})
	if err != nil {
		t.Fatal(err)
	}
	return &Circuit{Giver: b.Join(b.Rested(90, 10), 10), Maker: Alternator(90, 2000, 10, 14.4), Leads: 9e-3,
		Flat: b.Join(
			b.Rested(15, 0),
			0,
		), FlatLoad: 8, Path: 2e-3, Starter: engine.Make{Fuel: "petrol", Litres: 1.6, Volts: 12}.Starter(121)}
}

func BenchmarkJumpTry(b *testing.B) {
	k := someCircuit(b)
	for b.Loop() {
		k.Fork().Crank(3)
	}
}

func BenchmarkJumpTryQuick(b *testing.B) {
	var near guess
	k := someCircuit(b)
	for b.Loop() {
		k.Fork().crankQuick(&near)
	}
}

func BenchmarkJumpCharge(b *testing.B) {
	k := someCircuit(b)
	for b.Loop() {
		k.Fork().Charge(600)
	}
}

// known finds labels once, as a server does.
func known() Labels {
	type key struct {
		chemistry battery.Chemistry
		cells     int
		label     rating.Label
	}
	found := map[key]battery.Battery{}
	return func(c battery.Chemistry, cells int, l rating.Label) (battery.Battery, battery.Nameplate, error) {
		if b, ok := found[key{c, cells, l}]; ok {
			return b, battery.Nameplate{}, nil
		}
		b, p, err := battery.FromLabel(c, cells, l)
		found[key{c, cells, l}] = b
		return b, p, err
	}
}

func request(t testing.TB, name string) Request {
	t.Helper()
	data, err := os.ReadFile("testdata/" + name + ".json")
	if err != nil {
		t.Fatal(err)
	}
	r, err := Decode(data)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

// A diesel that does not turn: the plan with its advice, its labels' batteries known.
func BenchmarkJumpPlan(b *testing.B) {
	r, labels := request(b, "diesel"), known()
	for b.Loop() {
		if _, err := r.Plan(labels, words.Voice{}); err != nil {
			b.Fatal(err)
		}
	}
}

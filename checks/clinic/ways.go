package clinic

import (
	"math/rand/v2"
	"slices"

	"grapnel/core/rating"
)

// A way of working that is not Grapnel's: its verdict, and the minutes it takes.
type way struct {
	Name string
	work func(h *hand) string
}

// Ways are three simple ways of working, as they are met: by voltmeter alone, by half
// the CCA alone, and every station in its order by published limits.
var Ways = []way{
	{"Voltmeter only", voltmeter}, {"Half CCA only", halfCCA}, {"Every station in order, published limits", inOrder},
}

// Work gives what a way of working makes of a vehicle.
func Work(w way, v *Vehicle, rng *rand.Rand) Other {
	h := newHand(v, rng)
	return Other{w.work(h), h.work, h.wait}
}

func (h *hand) last(field string) float64 {
	return h.c.Readings[len(h.c.Readings)-1].Or(field, 0)
}

func (h *hand) k() float64 { return h.v.Volts / 12 }

// charged brings it to where the trade tests, if it is under 12.4 V.
func (h *hand) charged() float64 {
	h.rest()
	if h.last("volts") < 12.4*h.k() {
		h.charge()
		h.rest()
	}
	return h.last("volts")
}

func voltmeter(h *hand) string {
	h.look()
	if h.showed() {
		return "stop"
	}
	if h.charged() < 12.4*h.k() {
		return "replace"
	}
	return "good"
}

func halfCCA(h *hand) string {
	h.look()
	if h.showed() {
		return "stop"
	}
	h.load()
	if h.last("volts_end") < 9.6*h.k() {
		return "replace"
	}
	return "good"
}

// inOrder takes every station that this vehicle has, and judges by the published limits.
func inOrder(h *hand) string {
	h.look()
	if h.showed() {
		return "stop"
	}
	verdict := "good"
	elsewhere := func(bad bool) {
		if bad && verdict == "good" {
			verdict = "look_elsewhere"
		}
	}
	h.works(2) // the lid
	h.clean()
	volts := h.charged()
	if h.v.Caps == "removable" && h.v.Chemistry.Liquid() {
		h.acid()
		cells := h.c.Readings[len(h.c.Readings)-1].Numbers("cells_sg")
		if len(cells) > 0 && slices.Max(cells)-slices.Min(cells) >= 0.050 {
			verdict = "replace"
		}
	}
	if h.v.Eye {
		h.eye()
	}
	if volts < 12.4*h.k() {
		verdict = "replace"
	}
	h.load()
	temp := h.v.state.TempC
	if h.coldBlind {
		temp = 21
	}
	if h.last("volts_end") < rating.LoadTestLimit(h.v.Volts, temp) {
		verdict = "replace"
	}
	if h.v.Fuel != "none" && h.v.Class != "hybrid" {
		h.crank()
		r := h.c.Readings[len(h.c.Readings)-1]
		elsewhere(r.Or("drop_live_volts", 0) > 0.5*h.k() || r.Or("drop_earth_volts", 0) > 0.5*h.k() || r.Word("turned") == "no")
	}
	h.charging()
	v := h.last("volts") / h.k()
	elsewhere(v < 13.5 || v > 14.8)
	h.drain()
	if h.last("minutes_asleep") < 20 {
		h.drain()
	}
	elsewhere(h.last("milliamps") > 50)
	return verdict
}

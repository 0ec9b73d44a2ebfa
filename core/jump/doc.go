// Package jump works out whether a vehicle with a flat battery will start on another
// source, and how it is connected without a burn.
//
// The circuit is solved over time: what gives (a vehicle's battery with its alternator, a
// pack, a charger's boost), leads and clamps, the flat battery, which takes current like
// any load until it has some of its own, the vehicle's cables, the starter and the engine.
//
//	source.go    what gives
//	leads.go     copper, clamps, heat
//	circuit.go   the circuit, and its solution over a stretch of time
//	request.go   grapnel.jump_request/1
//	scene.go     a request made into batteries and machines; tries, now and after minutes
//	plan.go      grapnel.jump_plan/1: will it turn, and where the volts go
//	change.go    the smallest change that would do
//	order.go     clamps on and off, in order
//	refuse.go    what forbids it, and what to mind
//	after.go     what a drive puts back, and whether it restarts
package jump

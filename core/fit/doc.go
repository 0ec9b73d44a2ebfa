// Package fit says whether a battery suits a vehicle, rule by rule, and which of the
// shop's stock is the first to take. The first is never the one with the biggest number:
// it is the one that is as the vehicle's maker asked, ready, and has stood longest.
//
//	request.go  grapnel.fit_request/1
//	lines.go    the rules, each a line that holds or does not
//	state.go    what a battery on the shelf was tested to be
//	fit.go      grapnel.fit/1: the lines put together, and the order
package fit

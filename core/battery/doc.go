// Package battery is the one model of a lead-acid starting battery that stands
// under testing, charging, jumping, storing and practising.
//
// It has three layers, each a set of pure functions of their arguments:
//
//   - what is true at rest: acid and electromotive force (acid.go, emf.go,
//     rest.go), resistance and cold (resistance.go);
//   - what happens in time: one equivalent circuit (circuit.go) of a Battery
//     and its State, carried on by one stepper (stepper.go, run.go);
//   - what a reading says: charge from a rest voltage (restcharge.go), strength
//     from a load, a crank or a conductance figure (strength.go).
//
// Label gives the battery its parameters (label.go). The equations, their
// symbols and their sources are in docs/model.md.
//
// Voltages are of the whole battery unless a name says cell; currents are amps,
// positive into the battery; temperatures are °C; charge is a percentage of the
// present full charge, or a part of it from 0 to 1 inside the model.
package battery

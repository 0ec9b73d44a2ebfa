// Package battery is the one model of a lead-acid starting battery that stands
// under testing, charging, jumping, storing and practising. Everything in it is a
// pure function of its arguments.
//
// What is true of a battery at rest, each formula with its source:
//
//	specific gravity over charge, hydrometer correction     acid.go
//	strength of the acid, freezing point                    acid.go
//	electromotive force, rest volts                         emf.go
//	internal resistance, laws of temperature                resistance.go
//	cranking amps at any temperature, end volts of a load   cranking.go
//	capacity over rate and temperature, reserve capacity    capacity.go
//	self-discharge, water loss, days under a drain          storage.go
//	what differs between chemistries                        chemistry.go
//	age, faults                                             ageing.go, faults.go
//
// What happens in time: a Battery (model.go) and its State are one equivalent
// circuit (circuit.go: plates, wells, gassing, heat, hard sulphate), carried
// through a Duty (run.go) by one stepper (stepper.go, with the derivatives of
// jacobian.go).
//
// From a label: label.go completes it, calibrate.go finds the parameters.
//
// What a reading says: charge from a rest voltage with its trust (restcharge.go),
// strength from a load, a crank or a conductance figure, and whether two testers
// can both be right (strength.go).
//
// What to expect of a battery as it stands, all of this together: outlook.go.
//
// Voltages are of the whole battery unless a name says cell; currents are amps,
// positive into the battery in the circuit, and as they are spoken of elsewhere;
// temperatures are °C; charge is a percentage of the present full charge, or a
// part of it from 0 to 1 inside the circuit. The equations, their symbols and
// what they are not good for are in docs/model.md.
package battery

package battery

import "grapnel/core/words"

// Chemistry names how a lead-acid battery is built. The words are those of the
// grapnel.case/1 format.
type Chemistry string

// The builds a starting battery comes in.
const (
	Flooded       Chemistry = "flooded"        // removable caps or sealed lid, low-antimony or hybrid plates
	FloodedSealed Chemistry = "flooded_sealed" // calcium plates, "maintenance-free"
	EFB           Chemistry = "efb"            // enhanced flooded, for stop-start
	AGM           Chemistry = "agm"            // acid held in glass mat
	Gel           Chemistry = "gel"            // acid held in silica gel
	AGMDeepCycle  Chemistry = "agm_deep_cycle" // glass mat with thick plates, used for starting
)

// ChemistryWords gives the vocabulary of builds, in the order a technician meets
// them: as a label or a technician says it, and inside a sentence.
func ChemistryWords() words.List { return chemistryWords }

var chemistryWords = words.ListOf(
	words.Term{Code: string(Flooded), Word: "Flooded, caps", Said: "flooded"},
	words.Term{Code: string(FloodedSealed), Word: "Sealed calcium", Said: "sealed calcium"},
	words.Term{Code: string(EFB), Word: "EFB", Said: "EFB"},
	words.Term{Code: string(AGM), Word: "AGM", Said: "AGM"},
	words.Term{Code: string(Gel), Word: "Gel", Said: "gel"},
	words.Term{Code: string(AGMDeepCycle), Word: "Deep-cycle AGM", Said: "deep-cycle AGM"},
)

// Chemistries gives every chemistry, in the order of ChemistryWords.
func Chemistries() []Chemistry {
	var out []Chemistry
	for _, code := range chemistryWords.Codes() {
		out = append(out, Chemistry(code))
	}
	return out
}

// Known reports whether a chemistry is one of Chemistries.
func (c Chemistry) Known() bool { return chemistryWords.Has(string(c)) }

// Caps says how the lid of a chemistry is usually made: "removable" caps or
// "sealed". Common practice, no source.
func (c Chemistry) Caps() string {
	if c == Flooded {
		return "removable"
	}
	return "sealed"
}

// Liquid reports whether the acid is free to move, so that a hydrometer or an
// eye could read it and lost water matters at once.
func (c Chemistry) Liquid() bool {
	return c == Flooded || c == FloodedSealed || c == EFB
}

// Cells gives the number of cells in series in a battery of nominal volts: 2 V
// nominal each, so three in 6 V, four in 8 V, six in 12 V.
func Cells(nominalVolts float64) float64 { return nominalVolts / 2 }

// build is what a chemistry settles about a battery, whatever its size.
type build struct {
	sgFull, sgEmpty float64 // specific gravity at 26.7 °C, charged and empty
	spreadVolts     float64 // how far batteries of a kind differ at rest, ± volts of six cells
	family          float64 // how far two families of rest tables lie either side of the curve, volts of six cells
	exchangePerHour float64 // k: how fast pores and bulk even out, at 25 °C
	// charge acceptance of an empty cell, per hour of capacity, at 25 °C and little polarisation
	acceptPerHour float64
	gasPerAh      float64 // gassing, A per Ah at 2.23 V and 25 °C
	recombined    float64 // part of the gas that turns back to water
	selfPerMonth  float64 // part of the charge lost in 30 days at 25 °C besides what gassing takes
	ampsPerAh     float64 // usual cold cranking amps (SAE) for each 20 h ampere-hour
	ampsSpread    float64 // ± part of ampsPerAh
	peukert       float64 // usual exponent between the 20 h and the 25 A rate
}

// builds holds one row per chemistry.
//
// Specific gravity: flooded BCI, from memory, ±0.005; the others chosen so that
// full batteries rest where common practice has them, no source: calcium and
// EFB 12.7 to 12.8 V. AGM and gel tables come in two families, full at 12.8 and
// half at 12.3 V or 0.2 V higher: the curve lies between them.
// Exchange: fitted to the reserve capacity of usual labels and an hour's rest.
// Acceptance: common practice, no source, ±50 %: a half charged battery of
// about 60 Ah takes about 50 A warm. Gassing: Schiffer et al. 2007, from memory,
// 0.2 mA/Ah, more with antimony, less with calcium, within a factor of two.
// Recombination and self-discharge: Linden, from memory, within a factor of
// 1.5. Amps per Ah and Peukert's exponent: read off common labels, no source.
var builds = map[Chemistry]*build{
	Flooded:       {1.265, 1.120, 0.03, 0, 2.0, 0.36, 0.30e-3, 0.00, 0.020, 10.8, 0.20, 1.17},
	FloodedSealed: {1.280, 1.125, 0.05, 0, 2.0, 0.34, 0.12e-3, 0.00, 0.015, 10.5, 0.20, 1.17},
	EFB:           {1.280, 1.125, 0.05, 0, 2.0, 0.46, 0.14e-3, 0.00, 0.010, 10.0, 0.20, 1.16},
	AGM:           {1.310, 1.135, 0.04, 0.10, 1.3, 0.64, 0.05e-3, 0.97, 0.006, 11.5, 0.30, 1.13},
	Gel:           {1.310, 1.135, 0.04, 0.10, 1.2, 0.37, 0.04e-3, 0.97, 0.006, 7.5, 0.30, 1.15},
	AGMDeepCycle:  {1.310, 1.135, 0.04, 0.10, 1.3, 0.54, 0.05e-3, 0.97, 0.005, 8.0, 0.25, 1.12},
}

// of gives the row of a chemistry; an unknown one is read as flooded.
func of(c Chemistry) *build {
	if b, ok := builds[c]; ok {
		return b
	}
	return builds[Flooded]
}

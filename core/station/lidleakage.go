package station

// LidLeakage is the volts between a post and the lid.
const LidLeakage = "lid_leakage"

func init() {
	register(Station{
		Code: LidLeakage, Name: "Lid leakage", Hint: "volts between a post and the lid", Minutes: 2,
		Fields: []Field{
			{Name: "volts", Label: "Volts", Shape: dropVolts(), Need: true, Big: true, Digits: 2, Example: "0.10"},
		},
	})
}

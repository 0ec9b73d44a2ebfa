package suspect

// What is said of suspects.
const (
	saysComplaint  = "Complaint: {complaint}"
	saysWould      = "{read}. With {fault}, about {would}."
	saysTurned     = "{read}, {turned}"
	saysMoves      = "{Test} would move it."
	saysMended     = "Put right in this job: if it was that, the complaint is gone."
	saysMovesAfter = "{Test} would move it, {first}."
)

var turnedWords = map[string]string{"normal": "turned normally", "slow": "turned slowly", "no": "did not turn"}

// testNames are the tests at the head of a sentence.
var testNames = map[string]string{
	"rest_voltage": "rest volts", "hydrometer": "the acid, cell by cell", "load_test": "a load test", "conductance": "a conductance test",
	"cable_drop": "volts lost while it cranks", "charging": "charging volts", "drain": "the drain", RestApart: "a night apart", "eye": "the eye",
}

var firstWords = map[string]string{"charge": "once it is charged", "clean": "once it is clean", "warm": "once it is warm"}

// Why says what a test is for, in plain words.
func (t Test) Why() string {
	if why, ok := testWhys[t.Code]; ok {
		return why
	}
	return "Splits " + t.Between[0].said() + " from " + t.Between[1].said() + "."
}

// testWhys are tests that are done for one reason.
var testWhys = map[string]string{
	"rest_voltage": "Says how full it is, and whether a cell is missing.",
	"hydrometer":   "Finds the one bad cell that volts hide.",
	RestApart:      "A night with nothing connected finds the cell that loses its charge.",
	"eye":          "Says at a glance whether it is charged.",
	"charging":     "Tells whether it is filled again when it runs.",
	"cable_drop":   "Splits cables and contacts from the starter.",
	"drain":        "Finds what takes its charge while it stands.",
}

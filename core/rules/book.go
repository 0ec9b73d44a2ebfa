package rules

const (
	practice = "common practice, no source"
	bci      = "BCI service texts, from memory"
)

// The house rules, as findings cite them.
const (
	LoadTestMinSOC = "load_test.min_soc"
	LoadTestLimit  = "load_test.limit"
	StarterMin     = "load_test.starter_min"
	RestTime       = "rest_voltage.rest"
	ReturnMinSOC   = "return.min_soc"
)

// book lists every house rule. A rule that needs another field adds it to Rules;
// everything else about it stands here.
var book = []Rule{
	{
		ID: LoadTestMinSOC, Field: "load_test_min_soc_pct", Title: "Fair test", Unit: "%", Min: 50, Max: 100,
		Question: "How full must a battery be before a load test can condemn it?",
		number:   func(r *Rules) *float64 { return &r.LoadTestMinSOC },
		Schools: []School{
			{
				Name:   "three quarters",
				Number: 75,
				Why:    "A lower battery sags because it is flat, not because it is bad.",
				Source: bci,
			},
			{
				Name:   "eye school",
				Number: 65,
				Why:    "A green eye shows at about 65 %, and green means test.",
				Source: practice,
			},
		},
	},
	{
		ID: LoadTestLimit, Field: "load_test_limit", Title: "Limit under load",
		Question: "Does the least voltage under load follow the temperature?",
		word:     func(r *Rules) *string { return &r.LoadTestLimit },
		Schools: []School{
			{
				Name:   "temperature table",
				Word:   LimitByTemperature,
				Why:    "A cold battery sags more and is not worse for it.",
				Source: bci,
			},
			{
				Name:   "9.6 V flat",
				Word:   LimitFixed,
				Why:    "One figure to remember; strict on a cold day.",
				Source: practice,
			},
		},
	},
	{
		ID: StarterMin, Field: "starter_test_min_volts", Title: "Starter as the load", Unit: "V", Min: 9, Max: 10.5,
		Question: "How low may the volts go while the starter is the load?",
		number:   func(r *Rules) *float64 { return &r.StarterMinVolts },
		Schools: []School{
			{Name: "common", Number: 9.6, Why: "The same figure as the load test.", Source: practice},
			{
				Name:   "strict",
				Number: 10,
				Why:    "A starter draws less than half the CCA, so it should sag less.",
				Source: practice,
			},
		},
	},
	{
		ID: RestTime, Field: "rest_minutes", Title: "Rest", Unit: "min", Min: 10, Max: 1440,
		Question: "How long must a battery rest before its voltage is believed?",
		number:   func(r *Rules) *float64 { return &r.RestMinutes },
		Schools: []School{
			{
				Name:   "one hour",
				Number: 60,
				Why:    "Most of the surface charge is gone within the hour.",
				Source: practice,
			},
			{
				Name:   "overnight",
				Number: 480,
				Why:    "A warm, fresh AGM holds its surface charge for hours.",
				Source: practice,
			},
		},
	},
	{
		ID: ReturnMinSOC, Field: "return_min_soc_pct", Title: "Handing back", Unit: "%", Min: 75, Max: 100,
		Question: "How full must a sound battery be to go back to the customer?",
		number:   func(r *Rules) *float64 { return &r.ReturnMinSOC },
		Schools: []School{
			{
				Name:   "nearly full",
				Number: 90,
				Why:    "A half charged battery comes back in three days.",
				Source: practice,
			},
			{
				Name:   "fair test will do",
				Number: 75,
				Why:    "The alternator does the rest on a long drive.",
				Source: practice,
			},
		},
	},
}

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
	StrengthMethod = "strength.method"
	WeakBelow      = "strength.weak_below"
	WeakPolicy     = "strength.weak_policy"
	CableDropMax   = "cable_drop.max"
	DrainMax       = "drain.max"
	ChargePlace    = "charge.place"
	ChargeRate     = "charge.rate"
	TestOrder      = "test.order"
	JumpClamp      = "jump.clamp"
	JumpSource     = "jump.source"
	CleanPlace     = "clean.place"
	Protection     = "clean.protection"
	KeepAlive      = "replace.keep_alive"
	StoreMargin    = "store.margin"
	StoreMinSOC    = "store.min_soc"
)

// Ways to judge strength, for Rules.StrengthMethod.
const (
	ByHalfCCA     = "half_cca"
	ByFixedLoad   = "fixed_10s"
	ByStarter     = "starter"
	ByConductance = "conductance"
)

// What to say of a weak battery that starts its engine today, for
// Rules.WeakPolicy.
const (
	WeakTell  = "tell"
	WeakOffer = "offer"
	WeakWatch = "watch"
)

// Where a battery is charged, for Rules.ChargePlace.
const (
	ChargeInPlace = "in_place"
	ChargeOnBench = "bench"
)

// How many amps a battery is charged with, for Rules.ChargeRate.
const (
	RateTenth = "tenth"
	RateLabel = "label"
	RateFast  = "fast"
)

// Where the earthed clamp of a jump start goes last, for Rules.JumpClamp.
const (
	JumpOnBody = "body"
	JumpOnPost = "post"
)

// What a vehicle is jumped from first, for Rules.JumpSource.
const (
	JumpPackFirst = "pack_first"
	JumpAny       = "any"
)

// Where a battery is cleaned, for Rules.CleanPlace.
const (
	CleanOnBench = "bench"
	CleanInPlace = "in_place"
)

// What keeps contacts bright, for Rules.Protection.
const (
	ProtectSpray  = "spray"
	ProtectGrease = "grease"
)

// Which vehicles are fed while their battery is off, for Rules.KeepAlive.
const (
	KeepAliveByAge  = "by_age"
	KeepAliveAlways = "always"
)

// What is measured next, for Rules.TestOrder.
const (
	BestOrder    = "best"
	StationOrder = "stations"
)

// Deciding gives the rules that a verdict can hang on.
func Deciding() []string {
	return []string{LoadTestMinSOC, LoadTestLimit, StarterMin, RestTime, ReturnMinSOC, StrengthMethod, WeakBelow,
		CableDropMax, DrainMax}
}

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
	{
		ID: StrengthMethod, Field: "strength_method", Title: "Strength",
		Question: "Which test says whether a battery is strong enough?",
		word:     func(r *Rules) *string { return &r.StrengthMethod },
		Schools: []School{
			{
				Name: "half the CCA", Word: ByHalfCCA,
				Why:    "A real load, in proportion to the battery.",
				Source: "SAE J537 practice and BCI service texts, from memory",
			},
			{
				Name: "fixed load", Word: ByFixedLoad,
				Why:    "One tester for all; judged by what a new battery of this label would show.",
				Source: practice,
			},
			{
				Name: "the starter", Word: ByStarter,
				Why:    "No tester needed; it asks what this engine asks, no more.",
				Source: practice,
			},
			{
				Name: "conductance", Word: ByConductance,
				Why:    "Quick and without a load; blind to faults that only a load shows.",
				Source: practice,
			},
		},
	},
	{
		ID: WeakBelow, Field: "weak_below_pct", Title: "Weak", Unit: "%", Min: 50, Max: 90,
		Question: "Under what part of its label is a battery that still passes called weak?",
		number:   func(r *Rules) *float64 { return &r.WeakBelow },
		Schools: []School{
			{
				Name: "load school", Number: 65,
				Why:    "It still passes its load test, with little to lose before the cold.",
				Source: practice,
			},
			{
				Name: "conductance school", Number: 80,
				Why:    "60 to 80 % is watched or replaced by season.",
				Source: practice,
			},
		},
	},
	{
		ID: WeakPolicy, Field: "weak_policy", Title: "Weak, no complaint",
		Question: "What is said of a weak battery that starts its engine today?",
		word:     func(r *Rules) *string { return &r.WeakPolicy },
		Schools: []School{
			{
				Name: "tell and print", Word: WeakTell,
				Why:    "The customer knows from which cold it may fail, and decides.",
				Source: practice,
			},
			{
				Name: "offer a new one", Word: WeakOffer,
				Why:    "Nobody wants to stand in the frost; no pressure.",
				Source: practice,
			},
			{
				Name: "watch it", Word: WeakWatch,
				Why:    "It starts: test it again before the cold.",
				Source: practice,
			},
		},
	},
	{
		ID: CableDropMax, Field: "cable_drop_max_volts", Title: "Cables", Unit: "V", Min: 0.1, Max: 1,
		Question: "How much may one path lose, post to starter or engine to post, while it cranks?",
		number:   func(r *Rules) *float64 { return &r.CableDropMax },
		Schools: []School{
			{Name: "common", Number: 0.5, Why: "More than that and the starter goes short.", Source: practice},
			{Name: "strict", Number: 0.3, Why: "A good path on a small engine loses less.", Source: practice},
		},
	},
	{
		ID: DrainMax, Field: "drain_max_ma", Title: "Drain", Unit: "mA", Min: 5, Max: 500,
		Question: "How much may flow with everything off and asleep?",
		number:   func(r *Rules) *float64 { return &r.DrainMax },
		Schools: []School{
			{Name: "usual", Number: 50, Why: "Alarm, keys and modules asleep need that much.", Source: practice},
			{Name: "simple vehicles", Number: 30, Why: "A clock and a coded key need less.", Source: practice},
		},
		Customs: map[string]int{"motorcycle": 1, "atv": 1, "mower": 1, "tractor": 1, "classic": 1, "boat": 1},
	},
	{
		ID: ChargePlace, Field: "charge_place", Title: "Charging",
		Question: "Where is a battery charged?",
		word:     func(r *Rules) *string { return &r.ChargePlace },
		Schools: []School{
			{
				Name: "in the vehicle", Word: ChargeInPlace,
				Why:    "Nothing is reset; clean terminals and fresh air are needed.",
				Source: practice,
			},
			{
				Name: "on the bench", Word: ChargeOnBench,
				Why:    "No electronics on the charger, and the case in sight.",
				Source: practice,
			},
		},
		Customs: map[string]int{"motorcycle": 1, "atv": 1},
	},
	{
		ID: ChargeRate, Field: "charge_rate", Title: "Charging amps",
		Question: "How many amps is a battery charged with?",
		word:     func(r *Rules) *string { return &r.ChargeRate },
		Schools: []School{
			{
				Name: "a tenth of its Ah", Word: RateTenth,
				Why:    "Slow is kind: it can be left alone, and heat and gas stay small.",
				Source: practice,
			},
			{
				Name: "as the label says", Word: RateLabel,
				Why:    "The maker knows his plates. Where nothing is printed, a tenth.",
				Source: practice,
			},
			{
				Name: "fast, watched", Word: RateFast,
				Why:    "Ready for its test in an hour or two, with somebody beside it.",
				Source: practice,
			},
		},
	},
	{
		ID: JumpClamp, Field: "jump_clamp", Title: "Last clamp",
		Question: "Where does the earthed clamp of a jump start go last, unless the maker says?",
		word:     func(r *Rules) *string { return &r.JumpClamp },
		Schools: []School{
			{
				Name: "bare metal", Word: JumpOnBody,
				Why:    "The last contact sparks, and gas collects at the battery.",
				Source: practice,
			},
			{
				Name: "the earthed post", Word: JumpOnPost,
				Why:    "It bites best there, and bare metal is hard to find on many engines.",
				Source: practice,
			},
		},
	},
	{
		ID: JumpSource, Field: "jump_source", Title: "Jumped from",
		Question: "What is a vehicle jumped from where both are at hand?",
		word:     func(r *Rules) *string { return &r.JumpSource },
		Schools: []School{
			{
				Name: "what starts it", Word: JumpAny,
				Why:    "A pack or another vehicle: what turns this engine.",
				Source: practice,
			},
			{
				Name: "pack first", Word: JumpPackFirst,
				Why:    "No second vehicle’s electronics on the leads, nobody between bumpers.",
				Source: practice,
			},
		},
	},
	{
		ID: CleanPlace, Field: "clean_place", Title: "Cleaned",
		Question: "Where is a battery with bad contacts cleaned?",
		word:     func(r *Rules) *string { return &r.CleanPlace },
		Schools: []School{
			{
				Name: "out, on the bench", Word: CleanOnBench,
				Why:    "The tray and the far side of the clamps are seen, and no acid runs into the vehicle.",
				Source: practice,
			},
			{
				Name: "in place", Word: CleanInPlace,
				Why:    "Quicker, and nothing is lifted; only with care and rags beneath.",
				Source: practice,
			},
		},
	},
	{
		ID: Protection, Field: "contact_protection", Title: "Contacts kept bright",
		Question: "What is put on a contact once it is tight?",
		word:     func(r *Rules) *string { return &r.Protection },
		Schools: []School{
			{Name: "protective spray", Word: ProtectSpray, Why: "It creeps into every gap, and shows where it is.",
				Source: practice},
			{Name: "a skim of grease", Word: ProtectGrease, Why: "It stays for years, and every workshop has it.",
				Source: practice},
		},
	},
	{
		ID: KeepAlive, Field: "keep_alive", Title: "Keep-alive",
		Question: "Which vehicles are fed while their battery is off?",
		word:     func(r *Rules) *string { return &r.KeepAlive },
		Schools: []School{
			{
				Name: "those that forget", Word: KeepAliveByAge,
				Why:    "Road vehicles of the last dozen years; on the others there is nothing to lose.",
				Source: practice,
			},
			{Name: "all", Word: KeepAliveAlways, Why: "One habit for all; it does no harm on an old one.", Source: practice},
		},
	},
	{
		ID: StoreMargin, Field: "store_margin_c", Title: "Frost to spare", Unit: "°C", Min: 0, Max: 25,
		Question: "How far under the coldest usual night must the acid of a stored battery freeze?",
		number:   func(r *Rules) *float64 { return &r.StoreMarginC },
		Schools: []School{
			{
				Name: "five degrees", Number: 5,
				Why:    "A usual winter, and the few degrees by which the freezing table is unsure.",
				Source: practice,
			},
			{
				Name: "a hard winter", Number: 10,
				Why:    "Once in some years a night is ten degrees colder than usual, and that night counts.",
				Source: practice,
			},
		},
	},
	{
		ID: StoreMinSOC, Field: "store_min_soc_pct", Title: "Kept above", Unit: "%", Min: 20, Max: 95,
		Question: "Under which charge is a stored battery charged again?",
		number:   func(r *Rules) *float64 { return &r.StoreMinSOC },
		Schools: []School{
			{
				Name: "three quarters", Number: 75,
				Why:    "At 12.4 V sulphate begins to harden; it costs a night on the charger and saves a year of life.",
				Source: practice,
			},
			{
				Name: "half", Number: 50,
				Why:    "Fewer rounds; a healthy battery comes back from half if it does not stand there long.",
				Source: practice,
			},
		},
	},
	{
		ID: TestOrder, Field: "test_order", Title: "Order",
		Question: "Which test comes next where several are open?",
		word:     func(r *Rules) *string { return &r.TestOrder },
		Schools: []School{
			{
				Name: "what tells most", Word: BestOrder,
				Why:    "The test that settles most for the minutes it costs, here and now.",
				Source: "information theory, Lindley 1956, from memory",
			},
			{
				Name: "stations as they come", Word: StationOrder,
				Why:    "Always the same order: nothing is forgotten, and everybody knows what comes next.",
				Source: practice,
			},
		},
	},
}

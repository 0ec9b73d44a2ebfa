package season

import "grapnel/core/document"

func flag(doc string) document.Shape { return document.Flag().About(doc) }

var any1 = document.Shape{Kind: "number", Unbounded: true}

func figure(doc string) document.Shape { return any1.About(doc) }

func dateOf(doc string) document.Shape { return document.Shape{Kind: "date"}.About(doc) }

func text(doc string) document.Shape { return document.Text(400).About(doc) }

func all(of document.Shape) document.Shape { return document.List(0, MostDays, of) }

func bandShape(doc string) document.Shape {
	return document.Object([]string{"low", "best", "high"}, map[string]document.Shape{"low": any1, "best": any1, "high": any1}).
		About(doc)
}

func ruledShape() document.Shape {
	return document.Object(
		[]string{"rule", "ok", "text"},
		map[string]document.Shape{"rule": document.Text(40), "ok": document.Flag(),
			"unsure": flag("nobody knows enough of it"), "text": document.Text(400)},
	)
}

func dayShape() document.Shape {
	return document.Object([]string{"date", "soc_pct", "freezes_c", "low_c"}, map[string]document.Shape{
		"date": {
			Kind: "date",
		}, "soc_pct": figure("in the morning, at the best estimate"), "soc_low_pct": figure("the low end of its band"),
		"soc_high_pct": any1, "freezes_c": figure("its acid, at the best estimate"), "freezes_low_c": figure("the warmest that may be"),
		"freezes_high_c": any1, "low_c": figure("the coldest night where it stands"), "known": flag("that night was seen or is forecast")})
}

func wayShape() document.Shape {
	return document.Object(
		[]string{"way", "sign", "soc_pct_end", "soc_pct_min", "freeze_margin_min_c", "needs", "days"},
		map[string]document.Shape{
			"way": document.Words(
				waysOf.Codes()...), "name": document.Text(80), "sign": document.Words("holds", "act", "stop"),
			"says": text(
				"what becomes of it",
			), "cost": text("what it takes"), "soc_pct_end": bandShape("charge on the last day"),
			"soc_pct_min":         bandShape("the least charge"),
			"freeze_margin_min_c": figure("least degrees between a night and its freezing point, at the best estimate"),
			"freeze_margin_low_c": figure("the same at the low end of its band"),
			"freeze_margin_on":    dateOf("the night of that"),
			"freezes_on":          dateOf("absent when never, at the best estimate"),
			"freezes_from":        dateOf("the same at the low end of its band"),
			"no_start_on": dateOf(
				"from when it does not turn its engine on a mean day, or wake; absent when never",
			),
			"no_start_from": dateOf("the same at the low end of its band, on a cold morning"),
			"charge_by": dateOf(
				"the day before which it has to be charged by the house rules; absent when never",
			),
			"every_days": figure(
				"between charges or drives",
			), "drive_minutes": figure("how long each drive has to be"),
			"amps": figure(
				"of the maintainer",
			), "watts_needed": figure("of the panel that would do in the darkest month"),
			"work_minutes": figure(
				"of work until it is back",
			), "visits": figure("times somebody has to come between the first and the last"),
			"risks": all(
				document.Object(
					[]string{"code", "text"},
					map[string]document.Shape{"code": document.Text(40), "text": document.Text(400)},
				),
			),
			"needs": all(
				document.Object(
					[]string{"date", "do"},
					map[string]document.Shape{"date": {Kind: "date"}, "do": document.Text(200),
						"code": document.Words("put_away", "charge", "drive", "look", "wake"),
						"visit": flag(
							"somebody has to come for it",
						), "volts": figure("of a look: it should show so many at least")},
				),
			),
			"days": all(dayShape())},
	)
}

var planShape = document.Object(
	[]string{"format", "ways", "chosen", "why", "maintainer_amps", "cautions"},
	map[string]document.Shape{
		"format": document.Words(
			Format,
		), "ways": document.List(2, 7, wayShape()).About("best first"), "chosen": document.Words(waysOf.Codes()...),
		"why": document.Text(
			400,
		), "act_by": dateOf("the day by which something must be done; absent when nothing must"),
		"otherwise": text("what happens if it is not"),
		"maintainer_amps": document.Object(
			[]string{"min", "max"},
			map[string]document.Shape{"min": figure("above what drain and self-discharge take"),
				"max": figure(
					"a tenth of the ampere-hours",
				), "usual": figure("the smallest usual size between them; 0 for none")},
		),
		"maintainer": document.Object([]string{"ok", "lines"}, map[string]document.Shape{"ok": document.Flag(), "lines": all(ruledShape()),
			"dry_hours": figure("until a trickle charger has boiled it dry")}).
			About("the one that was asked about"),
		"drain": document.Object(
			nil,
			map[string]document.Shape{"drain_ma": bandShape("as the looks have it"), "measured": document.Flag(),
				"self_pct_month": bandShape("percent a month by itself, full at 25 °C")},
		),
		"now": document.Object(
			nil,
			map[string]document.Shape{
				"date":      {Kind: "date"},
				"soc_pct":   bandShape("today"),
				"freezes_c": figure("at the low end of its band"),
				"spare_c":   figure("the least that is to spare from this day on"),
				"spare_on":  {Kind: "date"},
			},
		),
		"scale": all(
			document.Object(
				[]string{"soc_pct", "freezes_c"},
				map[string]document.Shape{"soc_pct": any1, "freezes_c": any1},
			),
		).
			About("at which charge its acid freezes where"),
		"kept":   document.Words(waysOf.Codes()...).About("the way it is kept in; the one chosen where none was said"),
		"before": all(dayShape()).About("the way it is kept in, as it was thought before the looks"),
		"folk": document.Object(
			[]string{"says"},
			map[string]document.Shape{
				"turns_on":   dateOf("the day it falls under 12 V"),
				"freezes_on": dateOf("the day its acid really freezes"),
				"out_c": figure(
					"by how much the rule is wrong",
				),
				"late_days": figure("days by which it turns too late; under 0 too early"),
				"says":      document.Text(400),
			},
		),
		"myths": all(
			document.Object(
				[]string{"code", "claim", "is"},
				map[string]document.Shape{
					"code":  document.Text(40),
					"claim": document.Text(80),
					"is":    document.Text(400),
				},
			),
		),
		"advice":   all(document.Text(400)).About("what else a vehicle of this kind wants while it stands"),
		"cautions": all(document.Text(40)).About("codes"), "label": document.Text(80)},
)

// PlanSchema gives the JSON Schema of a plan.
func PlanSchema() map[string]any { return document.Schema(Format, planShape) }

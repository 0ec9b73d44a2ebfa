package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"math"
	"strings"
	"text/tabwriter"
	"time"

	"grapnel/core/battery"
	"grapnel/core/rating"
)

// batteryFigures is what `grapnel battery` prints: what a technician would ask
// of one battery as it stands.
type batteryFigures struct {
	Format string `json:"format"` // grapnel.battery/1

	Chemistry battery.Chemistry `json:"chemistry"`
	Volts     float64           `json:"nominal_volts"`
	Nameplate battery.Nameplate `json:"label"`
	Made      string            `json:"made,omitempty"`
	AgeMonths *int              `json:"age_months,omitempty"`
	Group     *tray             `json:"group_size,omitempty"`
	SOC       float64           `json:"soc_pct"`
	TempC     float64           `json:"battery_c"`
	HealthPct float64           `json:"health_pct"`

	battery.Outlook
}

// tray is a group size's outline.
type tray struct {
	Name       string      `json:"name"`
	LengthMM   float64     `json:"length_mm"`
	WidthMM    float64     `json:"width_mm"`
	HeightMM   float64     `json:"height_mm"`
	PositiveOn rating.Side `json:"positive_on"`
}

func batteryCommand(_ context.Context, args []string, std streams) error {
	flags := flag.NewFlagSet("battery", flag.ContinueOnError)
	flags.SetOutput(io.Discard)
	var l rating.Label
	chemistry := flags.String("chemistry", string(battery.Flooded), chemistryNames())
	volts := flags.Float64("volts", 12, "nominal volts: 6, 8 or 12")
	flags.Float64Var(&l.CCA, "cca", 0, "cold cranking amps on the label")
	standard := flags.String("standard", "SAE", "standard of -cca: SAE, EN, DIN, IEC or JIS")
	flags.Float64Var(&l.CA, "ca", 0, "cranking amps at 0 °C")
	flags.Float64Var(&l.RCMin, "rc", 0, "reserve capacity, minutes")
	flags.Float64Var(&l.Ah20h, "ah", 0, "ampere-hours at the 20 h rate")
	made := flags.String("made", "", "date code or month, such as C2 or 2022-03")
	group := flags.String("group", "", "group size, such as 24F or L3")
	soc := flags.Float64("soc", 100, "charge, percent")
	temp := flags.Float64("temp", 20, "temperature of the acid, °C")
	health := flags.Float64("health", 100, "cranking left, percent of new")
	drain := flags.Float64("drain", 30, "standing drain, milliamps")
	asJSON := flags.Bool("json", false, "print JSON")
	if err := flags.Parse(args); err != nil {
		if errors.Is(err, flag.ErrHelp) {
			flags.SetOutput(std.out)
			_, _ = fmt.Fprintln(std.out, "usage: grapnel battery -cca 540 -ah 48 [-soc 50] [-temp -10] ...")
			flags.PrintDefaults()
			return nil
		}
		return badInput{fmt.Errorf("%w; grapnel battery -h lists the flags", err)}
	}
	if flags.NArg() > 0 {
		return badInput{fmt.Errorf("%q is not a flag; grapnel battery -h lists them", flags.Arg(0))}
	}
	if err := (bounds{
		{"-volts", *volts, 6, 12, "V"}, {"-soc", *soc, 0, 100, "%"}, {"-temp", *temp, -50, 70, "°C"},
		{"-health", *health, 5, 120, "%"}, {"-drain", *drain, 0, 100000, "mA"}, {"-cca", l.CCA, 0, 3000, "A"},
		{"-ca", l.CA, 0, 4000, "A"}, {"-rc", l.RCMin, 0, 1000, "min"}, {"-ah", l.Ah20h, 0, 600, "Ah"},
	}).check(); err != nil {
		return badInput{err}
	}
	if *volts != 6 && *volts != 8 && *volts != 12 {
		return badInput{fmt.Errorf("-volts is %g: a battery is 6, 8 or 12 V", *volts)}
	}
	c := battery.Chemistry(*chemistry)
	if !c.Known() {
		return badInput{fmt.Errorf("-chemistry %q is not known: use %s", c, chemistryNames())}
	}
	l.Standard = rating.Standard(*standard)
	if _, err := rating.TestOf(l.Standard); err != nil {
		return badInput{fmt.Errorf("-standard: %w", err)}
	}
	b, plate, err := battery.FromLabel(c, int(battery.Cells(*volts)), l)
	if err != nil {
		return badInput{fmt.Errorf("%w: give -cca, -ca, -rc or -ah", err)}
	}
	worn, err := b.Worn(*health)
	if err != nil {
		return err
	}
	outlook, err := worn.Outlook(*soc, *temp, *drain)
	if err != nil {
		return err
	}
	out := batteryFigures{
		Format:    "grapnel.battery/1",
		Chemistry: c,
		Volts:     *volts,
		Nameplate: plate,
		SOC:       *soc,
		TempC:     *temp,
		HealthPct: *health,
		Outlook:   outlook,
	}
	if *made != "" {
		today := time.Now()
		now := rating.Month{Year: today.Year(), Month: int(today.Month())}
		month, err := rating.DateCode(*made, now)
		if err != nil {
			return badInput{fmt.Errorf("-made %w", err)}
		}
		age := month.MonthsUntil(now)
		out.Made, out.AgeMonths = month.String(), &age
	}
	if *group != "" {
		g, ok := rating.FindGroupSize(*group)
		if !ok {
			return badInput{
				fmt.Errorf("-group %q is not in the table of group sizes: measure the tray instead", *group),
			}
		}
		out.Group = &tray{g.Name, g.Length, g.Width, g.Height, g.Positive}
	}
	if *asJSON {
		return printJSON(std.out, out)
	}
	return out.print(std.out)
}

// bounds are flags with the range each must lie in.
type bounds []struct {
	name     string
	v        float64
	min, max float64
	unit     string
}

func (b bounds) check() error {
	var all []error
	for _, f := range b {
		if !(f.v >= f.min && f.v <= f.max) {
			all = append(all, fmt.Errorf("%s is %g: it must be from %g to %g %s", f.name, f.v, f.min, f.max, f.unit))
		}
	}
	return errors.Join(all...)
}

func chemistryNames() string { return strings.Join(battery.ChemistryWords().Codes(), ", ") }

// print writes the figures for a person. Digits are those that mean something.
func (f batteryFigures) print(out io.Writer) error {
	w := tabwriter.NewWriter(out, 0, 4, 2, ' ', 0)
	line := func(name, format string, v ...any) {
		_, _ = fmt.Fprintf(w, "%s\t%s\n", name, fmt.Sprintf(format, v...))
	}
	line("label", "%g V %s, %s", f.Volts, battery.ChemistryWords().Said(string(f.Chemistry)), strings.Join([]string{
		told(f.Nameplate.CCA, "CCA"), told(f.Nameplate.Ah20h, "Ah"), told(f.Nameplate.RCMin, "min")}, ", "))
	if f.Nameplate.Doubt != "" {
		line("doubt", "%s: read the label again", f.Nameplate.Doubt)
	}
	if f.AgeMonths != nil {
		line("made", "%s, %d months ago", f.Made, *f.AgeMonths)
	}
	if g := f.Group; g != nil {
		line(
			"group "+g.Name,
			"%g × %g × %g mm at most, positive on the %s (from memory; the tray decides)",
			g.LengthMM,
			g.WidthMM,
			g.HeightMM,
			g.PositiveOn,
		)
	}
	line("as it stands", "%g %% charged, %g °C, %g %% of its cranking when new", f.SOC, f.TempC, f.HealthPct)
	_, _ = fmt.Fprintln(w)
	line("rest volts", "%.2f V", f.RestVolts)
	if f.SG != nil {
		line("specific gravity", "%.3f at 26.7 °C", *f.SG)
	}
	frozen := ""
	if f.Frozen {
		frozen = "; at this temperature it is ice: do not charge, load or jump it"
	}
	line("freezes at", "%.0f °C%s", f.FreezesC, frozen)
	line("resistance", "%.1f mΩ", f.Milliohms)
	line("full, it would rate", "%.0f CCA", f.CCANow)
	line("cranking amps now", "%.0f A for 30 s to %.1f V", f.CrankNow, 1.2*battery.Cells(f.Volts))
	if f.HalfCCAVolts > 0 {
		line(
			"half CCA, 15 s",
			"%.0f A ends at %.2f V; the table asks %.2f V",
			f.HalfCCAAmps,
			f.HalfCCAVolts,
			f.LimitVolts,
		)
	} else {
		line("half CCA, 15 s", "%.0f A is more than it can give; the table asks %.2f V", f.HalfCCAAmps, f.LimitVolts)
	}
	line("left to give", "%.0f Ah at the 20 h rate", f.Ah)
	line("fast charger", "%.0f A at %.1f V", f.FastChargeAmps, f.FastChargeVolts)
	line("self-discharge", "%.1f %% a month", f.SelfPctMonth)
	line(fmt.Sprintf("days to 50 %% at %g mA", f.DrainMilliamps), "%s", days(f.DaysToHalf, f.SOC <= 50))
	line(fmt.Sprintf("days to half its CCA at %g mA", f.DrainMilliamps), "%s", days(f.DaysToNoStart, false))
	return w.Flush()
}

func told(f battery.Figure, unit string) string {
	if f.Estimated {
		return fmt.Sprintf("about %.0f %s (± %.0f %%)", f.Value, unit, math.Ceil(100*f.Spread))
	}
	return fmt.Sprintf("%g %s", f.Value, unit)
}

func days(d *float64, below bool) string {
	switch {
	case below:
		return "already there"
	case d == nil:
		return "not foreseen, or already there"
	case *d < 10:
		return fmt.Sprintf("%.1f", *d)
	}
	return fmt.Sprintf("%.0f", *d)
}

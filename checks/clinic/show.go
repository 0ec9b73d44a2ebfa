package clinic

import (
	"fmt"
	"io"
)

// Show tells one vehicle: what it is, what was read, and what was made of it.
func Show(w io.Writer, r Result) error {
	v, o := r.Vehicle, r.Outcome
	fmt.Fprintf(w, "\n%d: %s %s %s, %.1f years, really %s%s; %.0f %% of its label, %.0f %% charged, %.0f °C around it\n", r.Seed&0xffffffff, v.Class,
		v.Chemistry, v.Fuel, v.Years, faultsOf(v), odd(v), v.pct, v.battery.SOC(v.state), v.ambient)
	fmt.Fprintf(w, "said: %s; seen: %s; right: %v\n", listed(v.Complaint), listed(v.seen), r.Right)
	for _, one := range o.Case.Readings {
		raw, err := one.MarshalJSON()
		if err != nil {
			return err
		}
		fmt.Fprintf(w, "  %s\n", raw)
	}
	fmt.Fprintf(w, "path: %v\n%s: %s\n", o.Path, o.Verdict, o.Last.Headline)
	for _, s := range o.Last.Suspects[:min(4, len(o.Last.Suspects))] {
		fmt.Fprintf(w, "  %s %.2f\n", s.Fault, s.Present)
	}
	return nil
}

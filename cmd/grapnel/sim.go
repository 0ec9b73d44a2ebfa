package main

import (
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"strconv"

	"grapnel/core/battery"
	"grapnel/core/document"
	"grapnel/core/simulation"
)

// columns of the CSV, with their units.
var columns = []string{
	"step",
	"name",
	"seconds",
	"volts",
	"amps",
	"soc_pct",
	"battery_c",
	"pore",
	"bulk",
	"polarisation_v",
	"sulphate",
	"gas_a",
	"ah_in",
	"wh_in",
	"ended_by",
}

func simulate(ctx context.Context, args []string, std streams) error {
	data, err := oneFile(args, std.in)
	if err != nil {
		return badInput{err}
	}
	s, err := simulation.Decode(data)
	if err != nil {
		return badInput{fmt.Errorf("%s:\n%w", args[0], err)}
	}
	out := csv.NewWriter(std.out)
	if err := out.Write(columns); err != nil {
		return err
	}
	err = s.Run(func(r simulation.Row) error {
		c := r.State.Cells[0]
		line := []string{strconv.Itoa(r.Step), r.Name}
		for _, v := range []struct {
			v      float64
			digits int
		}{{r.Seconds, 3}, {r.Volts, 4}, {r.Amps, 4}, {r.SOC, 3}, {r.State.TempC, 3}, {c.Pore, 5}, {c.Bulk, 5},
			{c.Polarisation, 5}, {c.Sulphate, 5}, {r.GasAmps, 5}, {r.State.AhIn, 4}, {r.State.WhIn, 3}} {
			line = append(line, strconv.FormatFloat(v.v, 'f', v.digits, 64))
		}
		if err := ctx.Err(); err != nil {
			return err
		}
		return out.Write(append(line, r.Event))
	})
	out.Flush()
	var problems document.Problems
	if errors.As(err, &problems) || errors.Is(err, battery.ErrBoils) {
		return badInput{fmt.Errorf("%s:\n%w", args[0], err)}
	}
	if err != nil {
		return err
	}
	return out.Error()
}

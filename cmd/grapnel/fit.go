package main

import (
	"context"
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/fit"
	"grapnel/core/words"
)

// fits ranks what is on the shelf for a vehicle: grapnel fit FILE.
func fits(_ context.Context, args []string, std streams) error {
	data, err := oneFile(args, std.in)
	if err != nil {
		return badInput{err}
	}
	r, err := fit.Decode(data)
	if err != nil {
		return badInput{fmt.Errorf("%s:\n%w", args[0], err)}
	}
	return printJSON(std.out, r.Rank(battery.FromLabel, words.Voice{}))
}

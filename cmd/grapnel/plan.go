package main

import (
	"context"
	"fmt"

	"grapnel/core/charge"
	"grapnel/core/words"
)

// plan works out what will happen: grapnel plan charge FILE.
func plan(_ context.Context, args []string, std streams) error {
	if len(args) == 0 || args[0] != "charge" {
		return badInput{fmt.Errorf("say which plan: grapnel plan charge FILE")}
	}
	data, err := oneFile(args[1:], std.in)
	if err != nil {
		return badInput{err}
	}
	r, err := charge.Decode(data)
	if err != nil {
		return badInput{fmt.Errorf("%s:\n%w", args[1], err)}
	}
	p, err := r.Plan(words.Voice{})
	if err != nil {
		return badInput{fmt.Errorf("%s:\n%w", args[1], err)}
	}
	return printJSON(std.out, p)
}

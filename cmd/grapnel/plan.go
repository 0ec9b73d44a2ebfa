package main

import (
	"context"
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/jump"
	"grapnel/core/season"
	"grapnel/core/words"
)

// plans are what can be worked out ahead, by name: each reads a request and gives its plan.
var plans = map[string]func([]byte) (any, error){
	"charge": func(data []byte) (any, error) {
		r, err := charge.Decode(data)
		if err != nil {
			return nil, err
		}
		return r.Plan(words.Voice{})
	},
	"season": func(data []byte) (any, error) {
		r, err := season.Decode(data)
		if err != nil {
			return nil, err
		}
		return r.Make(battery.FromLabel, words.Voice{})
	},
	"jump": func(data []byte) (any, error) {
		r, err := jump.Decode(data)
		if err != nil {
			return nil, err
		}
		return r.Plan(nil, words.Voice{})
	},
}

// plan works out what will happen: grapnel plan charge FILE.
func plan(_ context.Context, args []string, std streams) error {
	var make func([]byte) (any, error)
	if len(args) > 0 {
		make = plans[args[0]]
	}
	if make == nil {
		return badInput{fmt.Errorf("say which plan: grapnel plan charge FILE, grapnel plan jump FILE or grapnel plan season FILE")}
	}
	data, err := oneFile(args[1:], std.in)
	if err != nil {
		return badInput{err}
	}
	p, err := make(data)
	if err != nil {
		return badInput{fmt.Errorf("%s:\n%w", args[1], err)}
	}
	return printJSON(std.out, p)
}

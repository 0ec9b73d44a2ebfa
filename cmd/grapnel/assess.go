package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strings"

	"grapnel/core/assess"
	"grapnel/core/casefile"
	"grapnel/core/charge"
	"grapnel/core/fit"
	"grapnel/core/jump"
	"grapnel/core/season"
	"grapnel/core/simulation"
	"grapnel/internal/api"
)

// mostFile is the largest document read.
const mostFile = 1 << 20

func assessCase(_ context.Context, args []string, std streams) error {
	data, err := oneFile(args, std.in)
	if err != nil {
		return badInput{err}
	}
	c, err := casefile.Decode(data)
	if err != nil {
		return badInput{fmt.Errorf("%s:\n%w", args[0], err)}
	}
	return printJSON(std.out, assess.Assess(c, nil))
}

// oneFile reads the FILE a command is given, - for standard input.
func oneFile(args []string, in io.Reader) ([]byte, error) {
	if len(args) != 1 {
		return nil, fmt.Errorf("give one FILE, or - for standard input")
	}
	name := args[0]
	if name != "-" {
		f, err := os.Open(name)
		if err != nil {
			return nil, err
		}
		defer func() { _ = f.Close() }()
		in = f
	}
	data, err := io.ReadAll(io.LimitReader(in, mostFile+1))
	if err != nil {
		return nil, err
	}
	if len(data) > mostFile {
		return nil, fmt.Errorf(
			"%s is larger than 1 MB; a document is far smaller, so check that it is the right file",
			name,
		)
	}
	return data, nil
}

func printJSON(w io.Writer, v any) error {
	enc := json.NewEncoder(w)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}

func openAPI(_ context.Context, _ []string, std streams) error {
	return printJSON(std.out, api.Describe())
}

func schema(_ context.Context, args []string, std streams) error {
	all := strings.Join(schemaNames(), ", ")
	if len(args) != 1 {
		return badInput{fmt.Errorf("say which: %s", all)}
	}
	for _, s := range schemas {
		if s.name == args[0] {
			return printJSON(std.out, s.of())
		}
	}
	return badInput{fmt.Errorf("%q is not a document that is written or read here: %s", args[0], all)}
}

// schemas are the open documents.
var schemas = []struct {
	name string
	of   func() map[string]any
}{
	{"case", casefile.Schema}, {"assessment", assess.Schema}, {"simulation", simulation.Schema},
	{"charge_request", charge.RequestSchema}, {"charge_plan", charge.PlanSchema},
	{"jump_request", jump.RequestSchema}, {"jump_plan", jump.PlanSchema},
	{"fit_request", fit.RequestSchema}, {"fit", fit.Schema},
	{"season_request", season.RequestSchema}, {"season_plan", season.PlanSchema},
}

func schemaNames() []string {
	out := make([]string, len(schemas))
	for i, s := range schemas {
		out[i] = s.name
	}
	return out
}

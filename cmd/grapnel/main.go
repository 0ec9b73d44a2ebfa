// Grapnel is the battery bench of a workshop: one program that assesses a case
// from a file, or serves the whole bench from a database.
package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"slices"
	"strings"
	"syscall"
)

// command is one word after "grapnel".
type command struct {
	name, args, does string
	run              func(ctx context.Context, args []string, std streams) error
}

type streams struct {
	in       io.Reader
	out, err io.Writer
}

var commands = []command{
	{"assess", "FILE", "judge a grapnel.case/1 file (- for standard input); prints grapnel.assessment/1", assessCase},
	{
		"battery",
		"FLAGS",
		"what to expect of a battery: -cca 540 -ah 48 -soc 50 -temp -10; -h lists the flags, -json for machines",
		batteryCommand,
	},
	{"sim", "FILE", "run a grapnel.simulation/1 profile through the battery model; writes CSV", simulate},
	{
		"plan",
		"WHAT FILE",
		"forecast a charge (plan charge), a jump start (plan jump) or a season of storage (plan season) from a grapnel.charge_request/1, " +
			"grapnel.jump_request/1 or grapnel.season_request/1 file; prints its plan",
		plan,
	},
	{"fit", "FILE", "rank the shelf for a vehicle from a grapnel.fit_request/1 file; prints grapnel.fit/1", fits},
	{"demo", "", "serve the demo workshop on a private database", demoServer},
	{"serve", "", "serve on the database at GRAPNEL_DSN", serve},
	{"migrate", "", "bring the tables at GRAPNEL_DSN up to date", migrate},
	{"backup", "FILE", "write everything into a file, as it is at one moment, while others work (- for standard output)", backup},
	{
		"restore",
		"FILE",
		"put a backup into an empty database, or with --replace in place of what is there (- for standard input)",
		restore,
	},
	{"user", "WHAT", "add, list, close people and more; grapnel user lists it; asks on standard input", user},
	{"openapi", "", "print the OpenAPI 3.1 description of the HTTP interface", openAPI},
	{
		"schema",
		"NAME",
		"print the JSON Schema of an open document: " + strings.Join(schemaNames(), ", "),
		schema,
	},
}

// badInput is an error of what was given, not of the program: exit code 2.
type badInput struct{ err error }

func (e badInput) Error() string { return e.err.Error() }

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	code := run(ctx, os.Args[1:], streams{os.Stdin, os.Stdout, os.Stderr})
	stop()
	os.Exit(code)
}

func run(ctx context.Context, args []string, std streams) int {
	if len(args) > 0 {
		for _, c := range commands {
			if c.name != args[0] {
				continue
			}
			if asksHelp(args[1:]) && c.args != "FLAGS" && c.args != "WHAT" { // those have their own
				_, _ = fmt.Fprintf(std.out, "usage: grapnel %s\n%s\n", strings.TrimSpace(c.name+" "+c.args), c.does)
				return 0
			}
			var err error = badInput{fmt.Errorf("it takes no arguments: %q", args[1:])}
			if c.args != "" || len(args) == 1 {
				err = c.run(ctx, args[1:], std)
			}
			if err == nil {
				return 0
			}
			_, _ = fmt.Fprintf(std.err, "grapnel %s: %v\n", c.name, err)
			var bad badInput
			if errors.As(err, &bad) {
				return 2
			}
			return 1
		}
		if args[0] != "help" && args[0] != "-h" && args[0] != "--help" {
			_, _ = fmt.Fprintf(std.err, "grapnel: %q is not a command\n\n", args[0])
			usage(std.err)
			return 2
		}
		usage(std.out)
		return 0
	}
	usage(std.err)
	return 2
}

func asksHelp(args []string) bool {
	return len(args) == 1 && slices.Contains([]string{"-h", "-help", "--help"}, args[0])
}

func usage(w io.Writer) {
	_, _ = fmt.Fprintln(w, "usage: grapnel COMMAND")
	for _, c := range commands {
		_, _ = fmt.Fprintf(w, "  %-14s %s\n", c.name+" "+c.args, c.does)
	}
}

package main

import (
	"cmp"
	"fmt"
	"os"
	"strings"
	"time"
)

// table writes what came of the faults.
func table(all []*fault, took time.Duration) string {
	var s strings.Builder
	tried, n := counts(all)
	whole := ""
	if tried < len(all) {
		whole = fmt.Sprintf(" The run was cut off: %d of %d were not tried.", len(all)-tried, len(all))
	}
	_, _ = fmt.Fprintf(&s, `# Faults made by hand, and whether the tests notice

Written by %s in %s. Each fault is one small edit; the tests it can reach run, the one that caught it last first, until one fails. %d of %d are caught (%.1f %%).%s

| | Where | What was changed | Fate | By |
|---|---|---|---|---|
`, "`make mutants`", took, n, tried, 100*float64(n)/float64(max(1, tried)), whole)
	for _, f := range all {
		_, _ = fmt.Fprintf(&s, "| %d | `%s` %s | %s | %s | `%s` |\n", f.n, f.dir, f.name, f.why, cmp.Or(f.fate, "not tried"), f.by)
	}
	return s.String()
}

// remember reads from the table written last which test caught each fault: it is tried
// first. Without a table every fault's tests start from the fastest.
func remember(all []*fault, out string) {
	raw, err := os.ReadFile(out)
	if err != nil {
		return
	}
	by := map[string]string{}
	for line := range strings.SplitSeq(string(raw), "\n") {
		if cells := strings.Split(line, " | "); len(cells) == 5 {
			by[cells[1]+cells[2]] = strings.Trim(cells[4], " |`")
		}
	}
	for _, f := range all {
		f.by = by[fmt.Sprintf("`%s` %s", f.dir, f.name)+f.why]
	}
}

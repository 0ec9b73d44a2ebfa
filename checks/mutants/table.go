package main

import (
	"fmt"
	"os"
	"strings"
	"time"
)

// table writes what came of the faults.
func table(all []fault, took time.Duration) string {
	var s strings.Builder
	n := 0
	for _, f := range all {
		if f.fate == caught {
			n++
		}
	}
	_, _ = fmt.Fprintf(&s, `# Faults made by hand, and whether the tests notice

Written by %s in %s. Each fault is one small edit; the tests it can reach run, the one that caught it last first, until one fails. %d of %d are caught (%.1f %%).

| | Where | What was changed | Fate | By |
|---|---|---|---|---|
`, "`make mutants`", took, n, len(all), 100*float64(n)/float64(len(all)))
	for _, f := range all {
		_, _ = fmt.Fprintf(&s, "| %d | `%s` %s | %s | %s | `%s` |\n", f.n, f.dir, f.name, f.why, f.fate, f.by)
	}
	return s.String()
}

// remember reads from the table written last which test caught each fault: it is tried
// first. Without a table every fault's tests start from the fastest.
func remember(all []fault, out string) {
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
	for i := range all {
		f := &all[i]
		f.by = by[fmt.Sprintf("`%s` %s", f.dir, f.name)+f.why]
	}
}

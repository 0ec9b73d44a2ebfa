package main

import (
	"os"
	"strings"
	"testing"
)

// The kept list is large enough, whole, and each fault's text stands once in its
// file, so that the list does not rot unseen.
func TestFaultsCanBeMade(t *testing.T) {
	raw, err := os.ReadFile("faults.txt")
	if err != nil {
		t.Fatal(err)
	}
	all, err := parse(string(raw))
	if err != nil {
		t.Fatal(err)
	}
	if len(all) < 80 {
		t.Errorf("%d faults are kept; 80 are asked for", len(all))
	}
	for _, f := range all {
		text, err := os.ReadFile("../../" + f.file)
		if err != nil {
			t.Errorf("fault %d: %v", f.n, err)
			continue
		}
		if n := strings.Count(string(text), f.old); n != 1 {
			t.Errorf("fault %d: %q stands %d times in %s", f.n, f.old, n, f.file)
		}
	}
}

func TestParse(t *testing.T) {
	all, err := parse("# a comment\n\na.go\n- x := 1\n- y\n+ x := 2\n? ./a -run X\n! another x\n")
	if err != nil || len(all) != 1 || all[0].old != "x := 1\ny" || all[0].new != "x := 2" || len(all[0].tests) != 3 ||
		all[0].n != 1 {
		t.Errorf("%+v, %v", all, err)
	}
	for _, bad := range []string{"a.go\n- x\n+ y\n! why", "a.go\n- x\n+ x\n? ./a\n! same", "a.go\n* x"} {
		if _, err := parse(bad); err == nil {
			t.Errorf("%q is taken", bad)
		}
	}
}

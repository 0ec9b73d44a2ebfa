package main

import (
	"context"
	"os"
	"slices"
	"strings"
	"testing"
)

// The kept list is large enough, whole, and each fault's place is found once, so that the
// list does not rot unseen.
func TestFaultsCanBeMade(t *testing.T) {
	raw, err := os.ReadFile("faults.txt")
	if err != nil {
		t.Fatal(err)
	}
	all, err := parse(string(raw))
	if err != nil {
		t.Fatal(err)
	}
	if len(all) < 700 {
		t.Errorf("%d faults are kept; there were 735", len(all))
	}
	folders := map[string][]stretch{}
	for _, f := range all {
		if folders[f.dir] == nil {
			if folders[f.dir], err = declarations("../..", f.dir); err != nil {
				t.Fatalf("fault %d: %v", f.n, err)
			}
		}
		if _, err := f.find(folders[f.dir]); err != nil {
			t.Errorf("fault %d: %v", f.n, err)
		}
	}
}

func TestParse(t *testing.T) {
	all, err := parse("# a comment\n\ncore/a T.f\n- x := 1\n- y\n+ x := 2\n! another x\n\nweb/src/lib it\n- gone()\n! taken away\n")
	if err != nil || len(all) != 2 || all[0].old != "x := 1\ny" || all[0].new != "x := 2" || all[0].name != "T.f" ||
		all[0].n != 1 || all[1].new != "" || !all[1].web() || all[0].web() {
		t.Errorf("%+v, %v", all, err)
	}
	for _, bad := range []string{"a f\n- x\n+ y", "a f\n- x\n+ x\n! same", "a\n- x\n! no name", "a f\n- x\n* x\n! a mark"} {
		if _, err := parse(bad); err == nil {
			t.Errorf("%q is taken", bad)
		}
	}
}

// Who catches a fault does it alone too; a test that was only late among the others is passed
// over, and others of its package are asked.
func TestCatcher(t *testing.T) {
	for _, c := range []struct{ among, alone, want string }{
		{"", "", ""}, {"TestA", "TestA", "TestA"}, {"TestA TestB", "TestB", "TestB"}, {"TestA TestB", "", ""}, {unnamed, "", unnamed},
	} {
		tests := func(_ context.Context, pkg, which string, names ...string) (string, error) {
			if which == "run" {
				if slices.Contains(strings.Fields(c.alone), names[0]) {
					return names[0], nil
				}
				return "", nil
			}
			if c.among == unnamed {
				return unnamed, nil
			}
			for _, name := range strings.Fields(c.among) {
				if !slices.Contains(names, name) {
					return name, nil
				}
			}
			return "", nil
		}
		if got, err := catcher(t.Context(), tests, "./a"); got != c.want || err != nil {
			t.Errorf("among others %q, alone %q: %q caught it, %v", c.among, c.alone, got, err)
		}
	}
}

// A fault is found again after its place was wrapped otherwise, moved to another file of the
// package, or renamed, the function as well as what it names; and nowhere, or in two places,
// is said.
func TestAFaultIsFoundAgain(t *testing.T) {
	f := fault{dir: "core/a", name: "Tank.full", old: "level >= limit(t, 0.5) && t.open", new: "level > limit(t, 0.5)"}
	const head = "package a\n\nfunc other() {}\n\n"
	for what, c := range map[string]struct{ src, want string }{
		"as it was": {"func (t *Tank) full() bool { return level >= limit(t, 0.5) && t.open }", "return level > limit(t, 0.5) }"},
		"wrapped": {"func (t *Tank) full() bool {\n\treturn level >= limit(\n\t\tt, // it\n\t\t0.5,\n\t) &&\n\t\tt.open\n}",
			"return level > limit(t, 0.5)\n}"},
		"function renamed": {"func full(t Tank) bool { return level >= limit(t, 0.5) && t.open }", "return level > limit(t, 0.5) }"},
		"names renamed": {"func (k *Keg) full() bool { return height >= most(k, 0.5) && k.open }",
			"return height > most(k, 0.5) }"},
		"another":     {"func (t *Tank) full() bool { return level >= limit(t, 0.6) && t.open }", ""},
		"two of it":   {"func (t *Tank) full() bool { return level >= limit(t, 0.5) && t.open || level >= limit(t, 0.5) && t.open }", ""},
		"mixed names": {"func (t *Tank) full() bool { return level >= limit(t, 0.5) && u.open }", ""},
	} {
		all, err := goDeclarations("core/a/x.go", head+c.src+"\n")
		if err != nil {
			t.Fatal(err)
		}
		at, err := f.find(all)
		if c.want == "" {
			if err == nil {
				t.Errorf("%s: found at %d", what, at.from)
			}
			continue
		}
		if err != nil {
			t.Errorf("%s: %v", what, err)
		} else if got := f.made(head+c.src, at); !strings.HasSuffix(got, c.want) {
			t.Errorf("%s: %s", what, got)
		}
	}
	web := fault{dir: "web/src/lib", name: "shown", old: "f(value, 1)", new: "f(value, 2)"}
	src := "const first = 1;\n\nexport function shown() {\n  return f(\n    value,\n    1,\n  );\n}\n"
	at, err := web.find(webDeclarations("web/src/lib/x.ts", src))
	if err != nil || !strings.Contains(web.made(src, at), "return f(value, 2);") {
		t.Errorf("in the front end: %v", err)
	}
}

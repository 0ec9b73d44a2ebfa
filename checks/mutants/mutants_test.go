package main

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
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

// Who catches a fault does it alone too, and passes without it: a test that was only late
// among the others, or fails anyway, is passed over, and others of its package are asked.
func TestWhoCatches(t *testing.T) {
	for _, c := range []struct{ among, alone, broken, last, want string }{
		{"", "", "", "", ""}, {"A", "A", "", "", "./b A"}, {"A B", "B", "", "", "./b B"}, {"A B", "", "", "", ""},
		{"A B", "A B", "A", "", "./b B"}, {unnamed, "", "", "", "./b " + unnamed},
		{"A B", "A B", "", "./a B", "./a B"}, {"A B", "A", "", "./a B", "./b A"}, {"A B", "A B", "B", "./a B", "./b A"},
	} {
		has := func(list, name string) bool { return slices.Contains(strings.Fields(list), name) }
		j := judge{reach: []string{"./none", "./b"}, sound: func(_, test string) (bool, error) { return !has(c.broken, test), nil }}
		j.with = func(_ context.Context, pkg, which string, names ...string) (string, error) {
			switch {
			case pkg == "./none":
			case which == "run" && has(c.alone, names[0]):
				return names[0], nil
			case which == "skip" && c.among == unnamed:
				return unnamed, nil
			case which == "skip":
				for _, name := range strings.Fields(c.among) {
					if !slices.Contains(names, name) {
						return name, nil
					}
				}
			}
			return "", nil
		}
		fate, by, err := j.judged(t.Context(), c.last)
		if by != c.want || (fate == caught) != (c.want != "") || err != nil {
			t.Errorf("%+v: %s by %q, %v", c, fate, by, err)
		}
	}
}

// A program with all faults of functions does as it did, and with each as that fault has it;
// what cannot have another beside it is not taken up.
func TestSwitches(t *testing.T) {
	const src = `package main

import "fmt"

type tank struct{ level int }

const limit = 2

func (t *tank) add(by ...int) {
	for _, one := range by {
		t.level += one
	}
}

func (t tank) full(at int) (bool, error) { return t.level >= at, nil }

func most[T int](a, b T) T { return max(a, b) }

func name(int, string) string { return "tank" }

func main() {
	t := tank{1}
	t.add(1, 2)
	ok, _ := t.full(limit + 2)
	fmt.Println(name(0, ""), t.level, ok, most(1, 2))
}
`
	faults := []struct {
		old, new string
		taken    bool
		want     string
	}{
		{"t.level += one", "t.level -= one", true, "tank -2 false 2"},
		{"t.level >= at", "t.level > at", true, "tank 4 false 2"},
		{`return "tank"`, `panic("no name")`, true, ""},
		{"range by", "range by[1:]", true, "tank 3 false 2"},
		{"max(a, b)", "min(a, b)", false, ""},
		{"limit + 2", "limit", false, ""},
		{"limit = 2", "limit = 3", false, ""},
		{"full(at int)", "full(at int32)", false, ""},
	}
	dir := t.TempDir()
	t.Chdir(dir)
	both := newSwitches()
	for i, f := range faults {
		at := strings.Index(src, f.old)
		bad := strings.Replace(src, f.old, f.new, 1)
		if got := both.add(&fault{n: i + 1}, "main.go", src, bad, place{file: "main.go", from: at, to: at + len(f.old)}); got != f.taken {
			t.Errorf("%s: taken %t", f.old, got)
		}
	}
	laid, err := both.lay(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	overlay, err := json.Marshal(map[string]any{"Replace": laid})
	if err != nil {
		t.Fatal(err)
	}
	for file, text := range map[string]string{"main.go": src, "overlay.json": string(overlay), "go.mod": "module tank\n\ngo 1.26\n"} {
		if err := os.WriteFile(file, []byte(text), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	if out, err := exec.Command("go", "build", "-overlay", "overlay.json", "-o", "tank", ".").CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	has := func(n int) string {
		c := exec.Command("./tank")
		c.Env = append(os.Environ(), fmt.Sprintf("%s=%d", hasFault, n))
		out, err := c.Output()
		if err != nil {
			return ""
		}
		return strings.TrimSpace(string(out))
	}
	if got := has(0); got != "tank 4 true 2" {
		t.Errorf("without a fault: %s", got)
	}
	for i, f := range faults {
		if got := has(i + 1); f.taken && got != f.want {
			t.Errorf("%s: %s, want %s", f.new, got, f.want)
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
	web := fault{dir: "web/src/lib", name: "shown", old: "f(value, 1);", new: "f(value, 2);"}
	src := "const first = 1;\n\nexport function shown() {\n  return f(\n    value,\n    1,\n  );\n}\n"
	at, err := web.find(webDeclarations("web/src/lib/x.ts", src))
	if err != nil || !strings.Contains(web.made(src, at), "return f(value, 2);\n") {
		t.Errorf("in the front end: %v", err)
	}
}

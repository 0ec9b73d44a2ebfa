package main

import (
	"fmt"
	"strings"
	"time"
)

// fault is one small edit of a declaration.
type fault struct {
	n        int
	dir      string // a package of Go, or a folder of the front end
	name     string // of the declaration
	old, new string
	why      string
	fate     string // what came of it
	by       string // the test that caught it, as package and name
	took     time.Duration
}

// web reports whether a fault is made in the front end, which the tests of pages notice.
func (f *fault) web() bool { return f.dir == "web" || strings.HasPrefix(f.dir, "web/") }

// parse reads the list: blocks of a place, the old text, the new text and the reason, a
// blank line between blocks. How the text is wrapped does not matter, nor in which file of
// its package it stands.
//
//	core/rating caToCCA
//	- caToCCA = 0.8
//	+ caToCCA = 0.7
//	! CA read by another ratio
func parse(text string) ([]*fault, error) {
	var all []*fault
	for _, block := range strings.Split(strings.TrimSpace(text), "\n\n") {
		f := &fault{n: len(all) + 1}
		for line := range strings.SplitSeq(block, "\n") {
			mark, rest, _ := strings.Cut(line, " ")
			switch mark {
			case "#":
			case "-":
				f.old = strings.TrimPrefix(f.old+"\n"+rest, "\n")
			case "+":
				f.new = strings.TrimPrefix(f.new+"\n"+rest, "\n")
			case "!":
				f.why = rest
			default:
				if f.dir != "" {
					return nil, fmt.Errorf("fault %d: what is %q?", f.n, line)
				}
				f.dir, f.name = mark, rest
			}
		}
		if f.dir == "" && f.old == "" {
			continue // a comment
		}
		if f.dir == "" || f.name == "" || f.old == "" || f.why == "" || f.old == f.new {
			return nil, fmt.Errorf("fault %d is not whole: %+v", f.n, *f)
		}
		all = append(all, f)
	}
	return all, nil
}

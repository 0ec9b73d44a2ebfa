// Write takes the record of what Grapnel says of its cases anew.
package main

import (
	"fmt"
	"os"

	"grapnel/checks/record"
)

func main() {
	if err := run("checks/record/testdata/record.txt"); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(file string) error {
	f, err := os.Create(file)
	if err != nil {
		return err
	}
	if err := record.Write(f); err != nil {
		_ = f.Close()
		return err
	}
	return f.Close()
}

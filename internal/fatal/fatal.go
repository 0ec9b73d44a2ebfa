// Package fatal ends tests on errors that are not what they test.
package fatal

import "testing"

// On ends the test when there is an error.
func On(t testing.TB, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

// Of gives a figure, and panics on an error: for figures in the middle of an
// expression that cannot fail there.
func Of[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

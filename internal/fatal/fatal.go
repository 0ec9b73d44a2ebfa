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

// Package deploy holds what a server needs to run as a service.
package deploy

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"grapnel/internal/fatal"
)

// The unit is one systemd takes without a complaint, and leaves little of the machine
// within reach: systemd's own measure of exposure, 0 to 10.
func TestUnit(t *testing.T) {
	bin, err := exec.LookPath("systemd-analyze")
	if err != nil {
		t.Fatalf("%v; make test installs it (package systemd)", err)
	}
	unit, err := os.ReadFile("grapnel.service")
	fatal.On(t, err)
	// The program and its settings are where they are on a server, not here.
	here := strings.NewReplacer("/usr/local/bin/grapnel serve", "/bin/true", "EnvironmentFile=/etc/grapnel.env", "EnvironmentFile=-/etc/grapnel.env").
		Replace(string(unit))
	if here == string(unit) {
		t.Fatal("the unit does not start the program")
	}
	file := filepath.Join(t.TempDir(), "grapnel.service")
	fatal.On(t, os.WriteFile(file, []byte(here), 0o600))
	for _, args := range [][]string{{"verify", "--man=no", file}, {"security", "--offline=true", "--threshold=25", file}} {
		out, err := exec.Command(bin, args...).CombinedOutput()
		if err != nil || args[0] == "verify" && len(out) > 0 {
			t.Errorf("systemd-analyze %s: %v\n%s", args[0], err, out)
		}
	}
}

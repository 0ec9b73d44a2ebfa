// Package leash sees to it that what a program started for itself does not outlive it:
// browsers and databases of the tests end, and their folders go, however the program ends,
// killed as well.
package leash

import (
	"fmt"
	"os/exec"
	"strconv"
	"strings"
	"syscall"
)

// The watcher reads a pipe that only the program holds. A word on it lets go; its end says
// that the program is gone.
const watcher = `read -r _ && exit
for group in $1; do kill -s KILL -- "-$group"; done
shift
for try in 1 2 3 4 5; do rm -rf -- "$@" && exit; sleep 0.3; done`

// Hold has the process groups killed and the folders removed once this program is gone.
// Whoever has ended them calls the function it gives, and nothing more happens.
func Hold(groups []int, dirs ...string) (let func(), err error) {
	var ids []string
	for _, g := range groups {
		ids = append(ids, strconv.Itoa(g))
	}
	cmd := exec.Command("/bin/sh", append([]string{"-c", watcher, "leash", strings.Join(ids, " ")}, dirs...)...)
	// Of a session of its own, so that what ends this program, a Ctrl-C too, leaves it.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setsid: true}
	in, err := cmd.StdinPipe()
	if err != nil {
		return nil, err
	}
	if err := cmd.Start(); err != nil {
		return nil, fmt.Errorf("watch over what was started: %w", err)
	}
	return func() {
		_, _ = in.Write([]byte("\n"))
		_ = in.Close()
		_ = cmd.Wait()
	}, nil
}

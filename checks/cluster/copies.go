package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"sync"
	"time"

	"grapnel/internal/localdb"
)

// copies are three of the program on one database.
type copies struct {
	bin, dir string
	dsns     [3]string
	at       [3]string // their addresses

	mu  sync.Mutex
	run [3]*exec.Cmd
}

func startCopies(bin, dir string, dsns [3]string) (*copies, error) {
	c := &copies{bin: bin, dir: dir, dsns: dsns}
	for i := range c.run {
		port, err := localdb.FreePort()
		if err != nil {
			return c, err
		}
		c.at[i] = fmt.Sprintf("127.0.0.1:%d", port)
	}
	var starting sync.WaitGroup
	errs := make([]error, len(c.run))
	for i := range c.run { // all at once: one of them makes the tables
		starting.Go(func() { errs[i] = c.start(i) })
	}
	starting.Wait()
	for i, err := range errs {
		if err != nil {
			return c, fmt.Errorf("start copy %d: %w", i, err)
		}
	}
	return c, nil
}

func (c *copies) start(i int) error {
	log, err := os.OpenFile(filepath.Join(c.dir, fmt.Sprintf("copy%d.log", i)), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer func() { _ = log.Close() }()
	cmd := exec.Command(c.bin, "serve")
	cmd.Env = append(os.Environ(), "GRAPNEL_DSN="+c.dsns[i], "GRAPNEL_ADDRESS="+c.at[i], "GRAPNEL_INSECURE=1")
	cmd.Stderr = log
	if err := cmd.Start(); err != nil {
		return err
	}
	c.mu.Lock()
	c.run[i] = cmd
	c.mu.Unlock()
	for end := time.Now().Add(30 * time.Second); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		if res, err := http.Get("http://" + c.at[i] + "/readyz"); err == nil {
			_ = res.Body.Close()
			if res.StatusCode == http.StatusOK {
				return nil
			}
		}
	}
	return fmt.Errorf("copy %d is not ready after 30 s; its log is %s", i, log.Name())
}

// again kills a copy at once and starts it after a second, as a service would.
func (c *copies) again(i int) error {
	c.mu.Lock()
	cmd := c.run[i]
	c.mu.Unlock()
	if err := cmd.Process.Kill(); err != nil {
		return err
	}
	_ = cmd.Wait()
	time.Sleep(time.Second)
	return c.start(i)
}

func (c *copies) stop() {
	c.mu.Lock()
	defer c.mu.Unlock()
	for _, cmd := range c.run {
		if cmd != nil {
			_ = cmd.Process.Kill()
			_ = cmd.Wait()
		}
	}
}

// signIn gives the cookie of a session, which is good at every copy.
func (c *copies) signIn() (string, error) {
	body, err := json.Marshal(map[string]string{"name": name, "passphrase": phrase})
	if err != nil {
		return "", err
	}
	res, err := http.Post("http://"+c.at[0]+"/api/session", "application/json", bytes.NewReader(body))
	if err != nil {
		return "", err
	}
	defer func() { _ = res.Body.Close() }()
	for _, one := range res.Cookies() {
		if one.Name == "grapnel" {
			return one.Name + "=" + one.Value, nil
		}
	}
	return "", fmt.Errorf("sign in: %s", res.Status)
}

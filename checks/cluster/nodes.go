package main

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"time"

	"grapnel/internal/localdb"
)

// provider is where Debian's galera-4 puts its library.
const provider = "/usr/lib/galera/libgalera_smm.so"

// cluster is three nodes of MariaDB that hold the same.
type cluster struct {
	dir   string
	nodes [3]*localdb.Server
	ports [3]struct{ group, state, transfer int }
}

func startNodes(ctx context.Context, dir string) (*cluster, error) {
	c := &cluster{dir: dir}
	if _, err := os.Stat(provider); err != nil {
		return c, fmt.Errorf("%w; make cluster-test installs it (packages galera-4 and rsync)", err)
	}
	for i := range c.ports {
		for _, into := range []*int{&c.ports[i].group, &c.ports[i].state, &c.ports[i].transfer} {
			port, err := localdb.FreePort()
			if err != nil {
				return c, err
			}
			*into = port
		}
	}
	if err := c.seed(ctx); err != nil {
		return c, err
	}
	for i := range c.nodes {
		if err := c.start(ctx, i, i == 0); err != nil {
			return c, fmt.Errorf("start node %d: %w", i, err)
		}
		fmt.Printf("node %d is up\n", i)
	}
	return c, nil
}

func (c *cluster) folder(i int) string { return filepath.Join(c.dir, fmt.Sprintf("node%d", i)) }

// start starts a node; the first of a new cluster, or one that joins.
func (c *cluster) start(ctx context.Context, i int, first bool) error {
	var group []string
	for _, p := range c.ports {
		group = append(group, fmt.Sprintf("127.0.0.1:%d", p.group))
	}
	p := c.ports[i]
	options := []string{
		"--wsrep-on=ON",
		"--wsrep-provider=" + provider,
		"--wsrep-cluster-name=grapnel",
		"--wsrep-cluster-address=gcomm://" + strings.Join(group, ","),
		"--binlog-format=ROW",
		"--innodb-autoinc-lock-mode=2",
		fmt.Sprintf("--wsrep-node-name=node%d", i),
		fmt.Sprintf("--wsrep-node-address=127.0.0.1:%d", p.group),
		"--wsrep-sst-method=rsync",
		fmt.Sprintf("--wsrep-sst-receive-address=127.0.0.1:%d", p.transfer),
		// A node that is gone is noticed in a second, where five are usual: requests wait as long.
		fmt.Sprintf(
			"--wsrep-provider-options=gmcast.listen_addr=tcp://127.0.0.1:%d;ist.recv_addr=127.0.0.1:%d;evs.keepalive_period=PT0.3S;evs.suspect_timeout=PT1S;evs.inactive_check_period=PT0.3S;evs.inactive_timeout=PT3S;evs.install_timeout=PT3S;pc.weight=1",
			p.group,
			p.state,
		),
	}
	if first {
		options = append(options, "--wsrep-new-cluster")
	}
	options = append(options, c.user(i)...)
	at, err := c.position(ctx, i)
	if err != nil {
		return err
	}
	if at != "" {
		options = append(options, "--wsrep-start-position="+at)
	}
	s, err := localdb.Start(ctx, c.folder(i), options...)
	if err != nil {
		return err
	}
	c.nodes[i] = s
	return c.ready(ctx, i)
}

// seed makes the first node's folder and copies it for the others, so that they join with
// what changed since, which takes a second.
func (c *cluster) seed(ctx context.Context) error {
	s, err := localdb.Start(ctx, c.folder(0), c.alone()...)
	if err != nil {
		return err
	}
	c.nodes[0] = s
	if _, err := s.Database(ctx, "grapnel"); err != nil {
		return err
	}
	if err := s.Stop(); err != nil {
		return err
	}
	for i := 1; i < len(c.nodes); i++ {
		if out, err := exec.Command("cp", "-a", c.folder(0), c.folder(i)).CombinedOutput(); err != nil {
			return fmt.Errorf("copy the first folder: %w\n%s", err, out)
		}
	}
	if os.Getuid() != 0 {
		return nil
	}
	if err := os.Chmod(c.dir, 0o755); err != nil {
		return err
	}
	for i := range c.nodes {
		if out, err := exec.Command("chown", "-R", "mysql", c.folder(i)).CombinedOutput(); err != nil {
			return fmt.Errorf("give the folder to mysql: %w\n%s", err, out)
		}
	}
	return nil
}

// user has a node run as the package's own user where this runs as root: the daemon that
// takes a state transfer in gives up root's rights. Its socket is then where it may make
// one.
func (c *cluster) user(i int) []string {
	if os.Getuid() != 0 {
		return nil
	}
	return []string{"--user=mysql", "--socket=" + filepath.Join(c.folder(i), "s")}
}

// alone are the options of a node that is a cluster by itself.
func (c *cluster) alone() []string {
	return []string{
		"--wsrep-on=ON",
		"--wsrep-provider=" + provider,
		"--wsrep-cluster-name=grapnel",
		"--wsrep-cluster-address=gcomm://",
		"--wsrep-new-cluster",
		"--binlog-format=ROW",
		"--innodb-autoinc-lock-mode=2",
		fmt.Sprintf(
			"--wsrep-provider-options=gmcast.listen_addr=tcp://127.0.0.1:%d;ist.recv_addr=127.0.0.1:%d",
			c.ports[0].group,
			c.ports[0].state,
		),
	}
}

var recovered = regexp.MustCompile(`Recovered position: (\S+)`)

// position gives the last change a killed node holds, empty where it was stopped in
// order: a service asks it the same way before it starts.
func (c *cluster) position(ctx context.Context, i int) (string, error) {
	state, err := os.ReadFile(filepath.Join(c.folder(i), "data", "grastate.dat"))
	if err != nil || !strings.Contains(string(state), "seqno:   -1") {
		return "", err
	}
	args := []string{
		"--no-defaults",
		"--datadir=" + filepath.Join(c.folder(i), "data"),
		"--wsrep-recover",
		"--wsrep-cluster-address=gcomm://",
		"--wsrep-on=ON",
		"--wsrep-provider=" + provider,
		"--skip-networking",
		"--binlog-format=ROW",
		"--innodb-autoinc-lock-mode=2",
	}
	args = append(args, c.user(i)...)
	out, err := exec.CommandContext(ctx, "/usr/sbin/mariadbd", args...).CombinedOutput()
	m := recovered.FindSubmatch(out)
	if m == nil {
		return "", fmt.Errorf("node %d does not tell its last change: %w\n%s", i, err, out)
	}
	return string(m[1]), nil
}

// ready waits until a node holds what the others hold.
func (c *cluster) ready(ctx context.Context, i int) error {
	var err error
	for end := time.Now().Add(time.Minute); time.Now().Before(end); time.Sleep(200 * time.Millisecond) {
		var state string
		if state, err = c.state(ctx, i, "wsrep_local_state_comment"); err == nil && state == "Synced" {
			return nil
		}
	}
	return fmt.Errorf("node %d is not in step after a minute: %w", i, err)
}

func (c *cluster) state(ctx context.Context, i int, what string) (value string, err error) {
	dsn, err := c.nodes[i].Database(ctx, "grapnel")
	if err != nil {
		return "", err
	}
	db, err := sql.Open("mysql", dsn)
	if err != nil {
		return "", err
	}
	defer func() { _ = db.Close() }()
	var name string
	err = db.QueryRowContext(ctx, `SHOW STATUS LIKE '`+what+`'`).Scan(&name, &value)
	return value, err
}

// again kills a node at once and starts it after a while, as a service would.
func (c *cluster) again(ctx context.Context, i int) error {
	if err := c.nodes[i].Kill(); err != nil {
		return err
	}
	time.Sleep(2 * time.Second)
	return c.start(ctx, i, false)
}

// synced reports whether all three hold together.
func (c *cluster) synced(ctx context.Context) error {
	for i := range c.nodes {
		if size, err := c.state(ctx, i, "wsrep_cluster_size"); err != nil || size != "3" {
			return fmt.Errorf("node %d sees a cluster of %s: %w", i, size, err)
		}
	}
	return nil
}

// dsns are the ways to the nodes, for each copy another first.
func (c *cluster) dsns() [3]string {
	var out [3]string
	var one []string
	for i := range c.nodes {
		dsn, _ := c.nodes[i].Database(context.Background(), "grapnel")
		one = append(one, dsn)
	}
	for i := range out {
		out[i] = strings.Join([]string{one[i], one[(i+1)%3], one[(i+2)%3]}, " ")
	}
	return out
}

const (
	name   = "Ada"
	phrase = "warm copper on paper"
)

func (c *cluster) addPerson(bin string) error {
	cmd := exec.Command(bin, "user", "add")
	cmd.Env = append(os.Environ(), "GRAPNEL_DSN="+c.dsns()[0])
	cmd.Stdin = strings.NewReader("North bench\n" + name + "\nlead\n" + phrase + "\n")
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("add a person: %w\n%s", err, out)
	}
	return nil
}

func (c *cluster) stop() {
	for _, s := range c.nodes {
		if s != nil {
			_ = s.Signal(syscall.SIGKILL)
		}
	}
}

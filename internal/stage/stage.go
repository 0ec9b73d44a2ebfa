// Package stage puts the demo workshop on a throwaway database and opens it in
// Chromium, for the tests of the real interface and for the pictures of it.
package stage

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/fetch"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/storage"
	"github.com/chromedp/cdproto/target"
	"github.com/chromedp/chromedp"

	"grapnel/internal/api"
	"grapnel/internal/demo"
	"grapnel/internal/leash"
	"grapnel/internal/localdb"
	"grapnel/internal/store"
	"grapnel/web"
)

// Stage is a running demo workshop, and a browser to look at it with.
type Stage struct {
	URL     string
	Store   *store.Store
	front   fs.FS
	browser context.Context
	dsn     string

	mu   sync.Mutex
	free []reused // tabs that serve the next who asks
}

// Start fills a throwaway database, serves it and starts Chromium. The returned
// function ends everything.
func Start(ctx context.Context) (*Stage, func(), error) {
	front, err := frontEnd()
	if err != nil {
		return nil, nil, err
	}
	browser, shut, err := Browse(ctx)
	if err != nil {
		return nil, nil, err
	}
	db, drop, err := localdb.Throwaway(ctx)
	if err != nil {
		shut()
		return nil, nil, err
	}
	stop := func() { drop(); shut() }
	s, err := open(ctx, db)
	if err != nil {
		stop()
		return nil, nil, err
	}
	st := &Stage{Store: s, front: front, browser: browser}
	if st.dsn, err = db.Database(ctx, database); err != nil {
		_ = s.Close()
		stop()
		return nil, nil, err
	}
	url, end, err := st.Serve("127.0.0.1:0")
	if err != nil {
		_ = s.Close()
		stop()
		return nil, nil, err
	}
	st.URL = url
	return st, func() {
		end()
		_ = s.Close()
		stop()
	}, nil
}

// Serve puts another server before the same workshop, at an address of the
// loopback; the returned function ends it and all its streams.
func (s *Stage) Serve(address string) (url string, end func(), err error) {
	return s.serve(address, api.Config{Store: s.Store, Now: time.Now})
}

// Apart puts a server before the same workshops whose clock can be moved on, and nobody
// else's with it.
func (s *Stage) Apart(ctx context.Context) (url string, end func(), err error) {
	own, err := store.Open(ctx, s.dsn)
	if err != nil {
		return "", nil, err
	}
	clock, err := demo.OpenClock("")
	if err != nil {
		return "", nil, errors.Join(err, own.Close())
	}
	own.SetNow(clock.Now)
	url, stop, err := s.serve("127.0.0.1:0", api.Config{Store: own, Now: clock.Now, MoveClock: clock.Move})
	if err != nil {
		return "", nil, errors.Join(err, own.Close())
	}
	return url, func() { stop(); _ = own.Close() }, nil
}

func (s *Stage) serve(address string, c api.Config) (url string, end func(), err error) {
	listener, err := net.Listen("tcp", address)
	if err != nil {
		return "", nil, err
	}
	ending, stop := context.WithCancel(context.Background())
	c.Web, c.SignInsMinute, c.Ending = s.front, 1000, ending
	for _, p := range demo.SignIns() {
		c.DemoSignIns = append(c.DemoSignIns, api.DemoSignIn{Name: p.Name, Passphrase: p.Passphrase, Role: p.Role})
	}
	server := httptest.NewUnstartedServer(api.New(c))
	_ = server.Listener.Close()
	server.Listener = listener
	server.Start()
	return server.URL, func() { stop(); server.Close() }, nil
}

// database is the name of the stage's.
const database = "stage"

func open(ctx context.Context, db *localdb.Server) (*store.Store, error) {
	dsn, err := db.Database(ctx, database)
	if err != nil {
		return nil, err
	}
	s, err := store.Open(ctx, dsn)
	if err != nil {
		return nil, err
	}
	if err := s.Migrate(ctx); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	if err := demo.Fill(ctx, s, time.Now()); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

// Screen is what the interface is looked at on.
type Screen struct {
	Width, Height int64
	Touch         bool
}

// The screens the interface is made for.
var (
	Desktop = Screen{1280, 800, false}
	Tablet  = Screen{820, 1180, true}
	Phone   = Screen{390, 844, true}
)

// frontEnd gives the built front end, and builds it when this program was
// compiled without one, so that the tests need no other command before them.
func frontEnd() (fs.FS, error) {
	if _, err := fs.Stat(web.Files(), "index.html"); err == nil {
		return web.Files(), nil
	}
	mod, err := exec.Command("go", "env", "GOMOD").Output()
	if err != nil {
		return nil, fmt.Errorf("find the project: %w", err)
	}
	root := filepath.Dir(strings.TrimSpace(string(mod)))
	if out, err := exec.Command("make", "-C", root, "web/dist/index.html").CombinedOutput(); err != nil {
		return nil, fmt.Errorf("build the front end (it needs Node and npm): %w\n%s", err, out)
	}
	return os.DirFS(filepath.Join(root, "web", "dist")), nil
}

// chromium finds the browser, best without a window of its own: that one does half
// the work.
func chromium() (string, error) {
	for _, name := range []string{"chromium-headless-shell", "chromium", "chromium-browser", "google-chrome"} {
		if path, err := exec.LookPath(name); err == nil {
			return path, nil
		}
	}
	return "", errors.New(
		"no Chromium is installed; on Debian: sudo apt-get install --no-install-recommends chromium-headless-shell; make test " +
			"does it for you",
	)
}

// Browse starts Chromium with an empty profile, and gives its first tab.
func Browse(ctx context.Context) (context.Context, context.CancelFunc, error) {
	bin, err := chromium()
	if err != nil {
		return nil, nil, err
	}
	profile, err := os.MkdirTemp("", "grapnel-browser-")
	if err != nil {
		return nil, nil, err
	}
	var group *exec.Cmd
	opts := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.ExecPath(bin), chromedp.UserDataDir(profile),
		chromedp.Flag("disable-quic", true), chromedp.Flag("enable-features", "NetworkServiceInProcess2"), chromedp.Flag("disable-component-update", true),
		chromedp.Flag("use-fake-device-for-media-stream", true), chromedp.Flag("use-fake-ui-for-media-stream", true),
		chromedp.Flag("force-prefers-reduced-motion", true), chromedp.Flag("hide-scrollbars", true), chromedp.Flag("lang", "en-GB"), chromedp.Flag("accept-lang", "en-GB"), chromedp.Flag("force-color-profile", "srgb"),
		chromedp.WSURLReadTimeout(60*time.Second), chromedp.ModifyCmdFunc(func(cmd *exec.Cmd) {
			group = cmd
			inItsOwnGroup(cmd)
		}))
	if os.Getuid() == 0 {
		opts = append(opts, chromedp.NoSandbox)
	}
	alloc, endAlloc := chromedp.NewExecAllocator(ctx, opts...)
	tab, endTab := chromedp.NewContext(alloc)
	end := func() {
		endTab()
		endAlloc()
		if group != nil && group.Process != nil {
			_ = endGroup(group) // where the script was gone before the browser
		}
		_ = os.RemoveAll(profile)
	}
	if err := chromedp.Run(tab); err != nil {
		end()
		return nil, nil, err
	}
	let, err := leash.Hold([]int{group.Process.Pid}, profile)
	if err != nil {
		end()
		return nil, nil, err
	}
	return tab, func() { end(); let() }, nil
}

// inItsOwnGroup lets Chromium end with whatever it started: Debian's command is a
// script that waits for the browser, and ending the script alone would leave the
// browser running.
func inItsOwnGroup(cmd *exec.Cmd) {
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGKILL}
	cmd.Cancel = func() error { return endGroup(cmd) }
}

func endGroup(cmd *exec.Cmd) error { return syscall.Kill(-cmd.Process.Pid, syscall.SIGKILL) }

// Tab gives a tab of somebody who has never been here: nothing another tab keeps
// is known in it. It has the focus even while others are typed in. Whoever is done with it
// says whether it may serve somebody else, emptied; one that something went wrong in may not.
func (s *Stage) Tab() (tab context.Context, end func(fit bool), err error) {
	one, err := s.freeTab()
	if err != nil {
		return nil, nil, err
	}
	// What was asked for in its name, as to be told of events, ends with it.
	tab, leave := context.WithCancel(one.ctx)
	return tab, func(fit bool) {
		leave()
		if fit && one.empty(s.URL) == nil {
			s.mu.Lock()
			s.free = append(s.free, one)
			s.mu.Unlock()
			return
		}
		one.shut()
	}, nil
}

// reused is a tab with a profile of its own: what a page is made of is known there after the
// first time, which spares each later page most of its work.
type reused struct {
	ctx  context.Context
	shut func()
}

func (s *Stage) freeTab() (reused, error) {
	s.mu.Lock()
	if n := len(s.free); n > 0 {
		defer s.mu.Unlock()
		one := s.free[n-1]
		s.free = s.free[:n-1]
		return one, nil
	}
	s.mu.Unlock()
	chrome := cdp.WithExecutor(s.browser, chromedp.FromContext(s.browser).Browser)
	profile, err := target.CreateBrowserContext().WithDisposeOnDetach(true).Do(chrome)
	if err != nil {
		return reused{}, fmt.Errorf("a profile of its own: %w", err)
	}
	// Chromium opens the first tab of a profile only in a window of its own, which
	// the library does not ask for.
	id, err := target.CreateTarget("about:blank").WithBrowserContextID(profile).WithNewWindow(true).Do(chrome)
	if err != nil {
		return reused{}, fmt.Errorf("a tab: %w", err)
	}
	tab, end := chromedp.NewContext(s.browser, chromedp.WithTargetID(id))
	shut := func() {
		end()
		_ = target.DisposeBrowserContext(profile).Do(chrome) // at the latest it goes with the browser
	}
	// The library asks to be told of every request, which nobody here listens to.
	if err := chromedp.Run(tab, emulation.SetFocusEmulationEnabled(true), network.Disable(), movedOn()); err != nil {
		shut()
		return reused{}, err
	}
	return reused{tab, shut}, nil
}

// movedOn moves the clock of a tab's pages on as far as that of this program is, where
// scripts/anytime has it moved.
func movedOn() chromedp.Action {
	return chromedp.ActionFunc(func(ctx context.Context) error {
		seconds := os.Getenv("GRAPNEL_TEST_SHIFT")
		if seconds == "" {
			return nil
		}
		_, err := page.AddScriptToEvaluateOnNewDocument(`(() => {
			const Real = Date, by = 1000 * ` + seconds + `;
			window.Date = class extends Real {
				constructor(...a) { if (a.length) super(...a); else super(Real.now() + by); }
				static now() { return Real.now() + by; }
			};
		})()`).Do(ctx)
		return err
	})
}

// empty makes a tab one of somebody who has never been at an address.
func (r reused) empty(url string) error {
	ctx, cancel := context.WithTimeout(r.ctx, 10*time.Second) // a page that asks whether to leave it is not asked twice
	defer cancel()
	return chromedp.Run(ctx,
		fetch.Disable(),
		network.Enable(),
		network.EmulateNetworkConditions(false, 0, -1, -1),
		network.Disable(),
		emulation.SetCPUThrottlingRate(1),
		page.SetWebLifecycleState(page.SetWebLifecycleStateStateActive),
		emulation.SetEmulatedMedia().WithMedia("").WithFeatures(nil),
		emulation.ClearDeviceMetricsOverride(), emulation.SetTouchEmulationEnabled(false),
		chromedp.Evaluate(`window.onbeforeunload = null; try { sessionStorage.clear() } catch {}; 1`, nil),
		chromedp.Navigate("about:blank"), // leaves what asks before it is left, too
		network.ClearBrowserCookies(),
		storage.ClearDataForOrigin(url, "local_storage,indexeddb,cache_storage,service_workers"),
		page.ResetNavigationHistory(),
	)
}

// On makes a tab show the given screen.
func On(s Screen) chromedp.Action {
	opts := []chromedp.EmulateViewportOption{chromedp.EmulateScale(1)}
	if s.Touch {
		opts = append(opts, chromedp.EmulateMobile, chromedp.EmulateTouch)
	}
	return chromedp.EmulateViewport(s.Width, s.Height, opts...)
}

// Button is the XPath of a visible button, link or chip with these words in it.
func Button(words string) string {
	return `//*[self::button or self::a][contains(normalize-space(.), "` + words + `")]`
}

// Labelled is the XPath of a field with this label.
func Labelled(words string) string {
	return `//input[@id=//label[normalize-space(.)="` + words + `"]/@for]`
}

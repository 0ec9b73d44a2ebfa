// Package stage puts the demo workshop on a throwaway database and opens it in
// Chromium, for the tests of the real interface and for the pictures of it.
package stage

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"

	"github.com/chromedp/chromedp"

	"grapnel/internal/api"
	"grapnel/internal/demo"
	"grapnel/internal/localdb"
	"grapnel/internal/store"
	"grapnel/web"
)

// Stage is a running demo workshop.
type Stage struct {
	URL   string
	Store *store.Store
}

// Start fills a throwaway database and serves it. The returned function ends
// everything.
func Start(ctx context.Context) (*Stage, func(), error) {
	front, err := frontEnd()
	if err != nil {
		return nil, nil, err
	}
	if _, err := chromium(); err != nil {
		return nil, nil, err
	}
	db, stop, err := localdb.Throwaway(ctx)
	if err != nil {
		return nil, nil, err
	}
	s, err := open(ctx, db)
	if err != nil {
		stop()
		return nil, nil, err
	}
	c := api.Config{Store: s, Web: front, SignInsMinute: 1000, Now: time.Now}
	for _, p := range demo.SignIns {
		c.DemoSignIns = append(c.DemoSignIns, api.DemoSignIn{Name: p.Name, Passphrase: p.Passphrase, Role: p.Role})
	}
	server := httptest.NewServer(api.New(c))
	return &Stage{URL: server.URL, Store: s}, func() {
		server.Close()
		_ = s.Close()
		stop()
	}, nil
}

func open(ctx context.Context, db *localdb.Server) (*store.Store, error) {
	dsn, err := db.Database(ctx, "stage")
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

func chromium() (string, error) {
	for _, name := range []string{"chromium", "chromium-browser", "google-chrome"} {
		if path, err := exec.LookPath(name); err == nil {
			return path, nil
		}
	}
	return "", errors.New("chromium is not installed. On Debian: sudo apt-get install --no-install-recommends chromium; make test does it for you")
}

// Browse starts Chromium with an empty profile and gives its one tab.
func Browse(ctx context.Context) (context.Context, context.CancelFunc, error) {
	bin, err := chromium()
	if err != nil {
		return nil, nil, err
	}
	opts := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.ExecPath(bin), chromedp.Flag("disable-quic", true),
		chromedp.Flag("disable-component-update", true), chromedp.Flag("hide-scrollbars", true), chromedp.Flag("force-color-profile", "srgb"), chromedp.WSURLReadTimeout(60*time.Second))
	if os.Getuid() == 0 {
		opts = append(opts, chromedp.NoSandbox)
	}
	alloc, endAlloc := chromedp.NewExecAllocator(ctx, opts...)
	tab, endTab := chromedp.NewContext(alloc)
	if err := chromedp.Run(tab); err != nil {
		endTab()
		endAlloc()
		return nil, nil, err
	}
	return tab, func() { endTab(); endAlloc() }, nil
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

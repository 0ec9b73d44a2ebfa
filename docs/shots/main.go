// Shots takes the pictures of docs/screenshots from the demo workshop.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"

	"grapnel/internal/stage"
)

type shot struct {
	name   string
	screen stage.Screen
	dark   bool
	out    bool // signed out
	steps  []chromedp.Action
}

func job(tag string) []chromedp.Action {
	return []chromedp.Action{
		stage.Click(tag),
		chromedp.WaitVisible(`//h1[contains(.,"`+tag+`")][not(ancestor::article)]`, chromedp.BySearch),
	}
}

// at opens a station of a job.
func at(tag, station, name string, more ...chromedp.Action) []chromedp.Action {
	return append(job(tag), append([]chromedp.Action{
		chromedp.Evaluate(`location.search = "?at=`+station+`"; 1`, nil),
		chromedp.WaitVisible(`section[aria-label="`+name+`"]`, chromedp.ByQuery),
	}, more...)...)
}

// again opens the form of a station where something was taken already.
func again(tag, station, name string, more ...chromedp.Action) []chromedp.Action {
	return at(tag, station, name, append([]chromedp.Action{stage.Click("Read again")}, more...)...)
}

func typed(css, text string) chromedp.Action { return chromedp.SendKeys(css, text, chromedp.ByQuery) }

func shots() []shot {
	newJob := []chromedp.Action{stage.Click("New job"), stage.Reads("What is it for?"), stage.Click("Mower"), stage.Click("Turns slowly")}
	crank := at("K-0102", "crank", "Crank", stage.Enter("Lowest at the posts", "11.02"), stage.Enter("Amps in the cable", "94"),
		stage.Enter("Lost on the live path", "0.16"), stage.Click("Slowly"), stage.Enter("Lost on the earthed path", "1.34"))
	var acid []chromedp.Action
	for i, sg := range []string{"1255", "1260", "1255", "1225", "1260", "1255"} {
		acid = append(acid, typed(fmt.Sprintf(`[data-cell="%d"]`, i+1), sg))
	}
	return []shot{
		{"sign-in", stage.Desktop, false, true, nil},
		{"floor", stage.Desktop, false, false, nil},
		{"floor-phone", stage.Phone, false, false, nil},
		{"new-job", stage.Desktop, false, false, append(newJob, stage.Click("300 CCA"))},
		{"new-job-phone", stage.Phone, false, false, newJob},
		{"look", stage.Desktop, false, false, again("K-0102", "look", "Look")},
		{"look-tablet", stage.Tablet, false, false, again("K-0102", "look", "Look")},
		{"rest-volts", stage.Desktop, false, false, at("K-0126", "rest_voltage", "Rest volts", stage.Enter("Meter reads", "12.31"))},
		{"rest-volts-phone", stage.Phone, true, false, at("K-0126", "rest_voltage", "Rest volts", stage.Enter("Meter reads", "12.31"))},
		{"acid", stage.Desktop, false, false, again("K-0102", "acid", "Acid", acid...)},
		{"strength", stage.Desktop, false, false, at("K-0098", "strength", "Strength", stage.Enter("Volts at the end", "9.61"))},
		{"strength-phone", stage.Phone, false, false, at("K-0098", "strength", "Strength")},
		{"crank", stage.Desktop, false, false, crank},
		{"crank-tablet", stage.Tablet, false, false, crank},
		{"drain-phone", stage.Phone, false, false, at("K-0102", "drain", "Drain")},
		{"decide", stage.Desktop, false, false, at("K-0121", "decide", "Decide", chromedp.Click(`(//aside//li//button)[2]`, chromedp.BySearch))},
		{"decide-dark", stage.Desktop, true, false, at("K-0142", "decide", "Decide")},
		{"hazard", stage.Desktop, false, false, job("K-0131")},
		{"house-rules", stage.Desktop, false, false, []chromedp.Action{stage.Click("House rules")}},
	}
}

func main() {
	out := flag.String("out", "docs/screenshots", "folder of the pictures")
	only := flag.String("only", "", "names to take, separated by commas; all when empty")
	flag.Parse()
	if err := run(*out, *only); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func run(out, only string) error {
	ctx := context.Background()
	s, stop, err := stage.Start(ctx)
	if err != nil {
		return err
	}
	defer stop()
	if err := os.MkdirAll(out, 0o755); err != nil {
		return err
	}
	for _, sh := range shots() {
		if only != "" && !strings.Contains(","+only+",", ","+sh.name+",") {
			continue
		}
		if err := take(s, sh, filepath.Join(out, sh.name+".png")); err != nil {
			return fmt.Errorf("%s: %w", sh.name, err)
		}
		fmt.Println(sh.name)
	}
	return nil
}

func take(s *stage.Stage, sh shot, file string) error {
	tab, end, err := s.Tab()
	if err != nil {
		return err
	}
	defer end()
	timed, stop := context.WithTimeout(tab, 30*time.Second)
	defer stop()
	scheme := "light"
	if sh.dark {
		scheme = "dark"
	}
	start := []chromedp.Action{
		stage.On(sh.screen),
		emulation.SetEmulatedMedia().
			WithFeatures([]*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: scheme}}),
		chromedp.Navigate(s.URL),
	}
	if !sh.out {
		start = append(start, stage.Click("Ines"), chromedp.WaitVisible(stage.Button("New job"), chromedp.BySearch))
	} else {
		start = append(start, chromedp.WaitVisible(stage.Button("Sign in"), chromedp.BySearch))
	}
	var png []byte
	settle := chromedp.Sleep(900 * time.Millisecond)
	actions := append(append(start, sh.steps...), settle, chromedp.ActionFunc(func(ctx context.Context) (err error) {
		png, err = page.CaptureScreenshot().WithFormat(page.CaptureScreenshotFormatPng).Do(ctx)
		return err
	}))
	if err := chromedp.Run(timed, actions...); err != nil {
		return errors.Join(err, stuck(tab, file))
	}
	return os.WriteFile(file, png, 0o644)
}

// stuck says what a tab showed when a step could not be done.
func stuck(tab context.Context, file string) error {
	var png []byte
	var text string
	err := chromedp.Run(tab, chromedp.CaptureScreenshot(&png), chromedp.Text("body", &text))
	file = strings.TrimSuffix(file, ".png") + "-stuck.png"
	return errors.Join(err, os.WriteFile(file, png, 0o644),
		fmt.Errorf("it is pictured in %s and reads:\n%s", file, text))
}

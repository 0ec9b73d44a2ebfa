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

func with(a []chromedp.Action, more ...chromedp.Action) []chromedp.Action { return append(a, more...) }

func shots() []shot {
	return []shot{
		{"sign-in", stage.Desktop, false, true, nil},
		{"floor", stage.Desktop, false, false, nil},
		{"floor-tablet", stage.Tablet, false, false, nil},
		{"floor-phone", stage.Phone, false, false, nil},
		{
			"new-job",
			stage.Desktop,
			false,
			false,
			[]chromedp.Action{stage.Click("New job"), stage.Reads("What is it for?"), stage.Click("Mower"), stage.Click("Turns slowly"), stage.Click("300 CCA")},
		},
		{
			"new-job-phone",
			stage.Phone,
			false,
			false,
			[]chromedp.Action{stage.Click("New job"), stage.Reads("What is it for?"), stage.Click("Mower"), stage.Click("Turns slowly")},
		},
		{"rest-volts", stage.Desktop, false, false, with(job("K-0126"), stage.Enter("Meter reads", "12.31"))},
		{"rest-volts-tablet", stage.Tablet, false, false, with(job("K-0126"), stage.Enter("Meter reads", "12.31"))},
		{"rest-volts-phone", stage.Phone, true, false, with(job("K-0126"), stage.Enter("Meter reads", "12.31"))},
		{"load-test", stage.Desktop, false, false, with(job("K-0098"), stage.Enter("Volts at the end", "9.61"))},
		{"load-test-tablet", stage.Tablet, false, false, with(job("K-0098"), stage.Enter("Volts at the end", "9.61"))},
		{"load-test-phone", stage.Phone, false, false, job("K-0098")},
		{
			"strength",
			stage.Desktop,
			false,
			false,
			with(job("K-0121"), chromedp.Click(`//nav//button[contains(.,"Load")]`, chromedp.BySearch)),
		},
		{
			"strength-phone",
			stage.Phone,
			false,
			false,
			with(job("K-0121"), chromedp.Click(`//main//button[contains(.,"8.15")]`, chromedp.BySearch)),
		},
		{
			"decide",
			stage.Desktop,
			false,
			false,
			with(job("K-0121"), chromedp.Click(`(//aside//li//button)[2]`, chromedp.BySearch)),
		},
		{"decide-phone", stage.Phone, false, false, job("K-0142")},
		{"decide-dark", stage.Desktop, true, false, job("K-0142")},
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

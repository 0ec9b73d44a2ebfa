// Shots takes the pictures of docs/screenshots from the demo workshop.
package main

import (
	"bytes"
	"context"
	"encoding/base64"
	"errors"
	"flag"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"

	"grapnel/internal/stage"
)

type shot struct {
	name   string
	screen stage.Screen
	dark   bool
	as     string // who looks
	steps  []chromedp.Action
}

func job(tag string) []chromedp.Action {
	return []chromedp.Action{
		stage.Click(tag),
		stage.Shown(`//h1[contains(.,"` + tag + `")][not(ancestor::article)]`),
	}
}

// at opens a station of a job.
func at(tag, station, name string, more ...chromedp.Action) []chromedp.Action {
	return append(job(tag), append([]chromedp.Action{
		chromedp.Evaluate(`location.search = "?at=`+station+`"; 1`, nil),
		stage.Shown(`section[aria-label="` + name + `"]`),
	}, more...)...)
}

// again opens the form of a station where something was taken already.
func again(tag, station, name string, more ...chromedp.Action) []chromedp.Action {
	return at(tag, station, name, append([]chromedp.Action{stage.Click("Read again")}, more...)...)
}

func shots() []shot {
	suspects := at("K-0102", "crank", "Crank")
	charging := append(
		to("/bank", "K-0123"),
		stage.Press(`//*[@data-charger][contains(., "K-0123")]//button`),
		stage.Reads("charges like a sound battery"),
	)
	handed := append(to("/?show=closed&find=K-0120", "with “K-0120”"), chromedp.Click(`(//main//li//a)[1]`, chromedp.BySearch),
		stage.Shown(`nav[aria-label=Stations]`), chromedp.Sleep(time.Second), stage.Press(`//nav[@aria-label="Stations"]//button[contains(., "Hand over")]`), stage.Reads("On paper"))
	life := to("/register/K-0098", "They differ by")
	all := []shot{
		{"floor", stage.Desktop, false, "Ines", nil},
		{"floor-phone", stage.Phone, false, "Ines", nil},
		{"look", stage.Desktop, false, "Ines", again("K-0102", "look", "Look")},
		{"season", stage.Desktop, false, "Ines", []chromedp.Action{
			chromedp.Evaluate(`location.href = "/season"; 1`, nil), chromedp.Sleep(2 * time.Second), stage.Reads("Earthed clamp off"),
			chromedp.Evaluate(`[...document.querySelectorAll("aside li a")].find((a) => a.textContent.includes("K-0140")).click()`, nil),
			stage.Reads("It comes through")}},
		{"round-phone", stage.Phone, true, "Ines", to("/season/round?lot=Council+yard", "Save, and on")},
		{
			"decide",
			stage.Desktop,
			false,
			"Ines",
			at("K-0121", "decide", "Decide", chromedp.Click(`(//aside//li//button)[2]`, chromedp.BySearch)),
		},
		{"hazard", stage.Desktop, false, "Ines", job("K-0131")},
		{"register", stage.Desktop, false, "Ines", to("/register", "fail in the coming cold")},
	}
	all = append(all,
		shot{"suspects", stage.Desktop, false, "Ines", suspects},
		shot{"why-flat", stage.Desktop, false, "Ines", at("K-0122", "why_flat", "Why flat?")},
		shot{"handover", stage.Desktop, false, "Ines", handed},
		shot{"life", stage.Desktop, false, "Ines", life},
		// The charge of K-0123, worked out by its looks.
		shot{"bank", stage.Desktop, false, "Ines", charging},
		shot{"jump", stage.Desktop, false, "Ines", call("Van", "2.2 l", "Nothing at all", "−5 °C", "A car",
			"Fold what was told")},
		// A corroded tractor half way through, on three sizes of screen; a worn car.
		shot{"guide-phone", stage.Phone, true, "Ines", at("K-0133", "clean", "Clean",
			guided("clean", "Earthed clamp off first")...)},
		shot{"fit", stage.Desktop, false, "Ines", at("K-0127", "decide", "Decide",
			guided("replace", "The new one: tested, charged")...)},
		shot{"guide", stage.Desktop, false, "Marit", at("K-0127", "decide", "Decide",
			guided("replace", "Live clamp off second")...)},
		shot{"jump-phone", stage.Phone, false, "Ines", call("Van", "2.2 l", "Nothing at all", "−5 °C", "A car",
			"Fold what was told")})
	return all
}

// guided opens a guide from where it is offered, begins it where it is not, and ticks until
// a step stands.
func guided(what, until string) []chromedp.Action {
	return append([]chromedp.Action{chromedp.Click(`//main//a[contains(@href, "/guide/`+what+`")]`, chromedp.BySearch)},
		ticked(until)...)
}

func ticked(until string) []chromedp.Action {
	return []chromedp.Action{chromedp.Evaluate(`new Promise((done) => {
		const go = () => {
			const at = document.querySelector("main h1")?.textContent ?? "";
			if (at.startsWith("`+until+`")) return done(1);
			const first = document.querySelector("main button[aria-pressed=false]");
			const tick = document.querySelector("main [data-done]") ?? document.querySelector("main [data-saves]");
			if (first && tick?.disabled) first.click();
			else tick?.click();
			setTimeout(go, 120);
		};
		go();
	})`, nil, func(p *runtime.EvaluateParams) *runtime.EvaluateParams { return p.WithAwaitPromise(true) })}
}

// call tells the jump planner of a vehicle at the roadside, in taps.
func call(taps ...string) []chromedp.Action {
	steps := to("/jump", "What does not start")
	for _, words := range taps {
		steps = append(steps, stage.Press(`//button[starts-with(normalize-space(.), "`+words+`")]`))
	}
	return append(steps, chromedp.Sleep(time.Second))
}

// to goes to a place by its path, and waits for words there.
func to(path, words string) []chromedp.Action {
	return []chromedp.Action{
		chromedp.Evaluate(`location.href = "`+path+`"; 1`, nil),
		chromedp.WaitReady(`//h1[not(ancestor::article)]`, chromedp.BySearch),
		chromedp.Sleep(500 * time.Millisecond),
		stage.Reads(words),
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
	if only != "" && !strings.Contains(","+only+",", ",report,") {
		return nil
	}
	return report(s, filepath.Join(out, "report.png"))
}

// report pictures the first page of the report of K-0120.
func report(s *stage.Stage, file string) error {
	tab, end, err := s.Tab()
	if err != nil {
		return err
	}
	defer end(false)
	timed, stop := context.WithTimeout(tab, 30*time.Second)
	defer stop()
	var text string
	if err := chromedp.Run(timed, chromedp.Navigate(s.URL), stage.Click("Ines"), stage.Shown(stage.Button("New job")),
		chromedp.Evaluate(`(async () => {
			const found = await (await fetch("/api/jobs?closed=true&find=K-0120")).json();
			const pdf = await (await fetch("/api/jobs/" + found.jobs[0].id + "/report?zone=UTC")).arrayBuffer();
			return btoa(Array.from(new Uint8Array(pdf), (c) => String.fromCharCode(c)).join(""));
		})()`, &text, func(p *runtime.EvaluateParams) *runtime.EvaluateParams { return p.WithAwaitPromise(true) })); err != nil {
		return err
	}
	raw, err := base64.StdEncoding.DecodeString(text)
	if err != nil {
		return err
	}
	draw := exec.CommandContext(timed, "pdftoppm", "-r", "92", "-l", "1", "-png", "-singlefile", "-", strings.TrimSuffix(file, ".png"))
	draw.Stdin, draw.Stderr = bytes.NewReader(raw), os.Stderr
	if err := draw.Run(); err != nil {
		return fmt.Errorf("draw the report: %w", err)
	}
	fmt.Println("report")
	return nil
}

func take(s *stage.Stage, sh shot, file string) error {
	tab, end, err := s.Tab()
	if err != nil {
		return err
	}
	defer end(false)
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
		stage.Click(sh.as),
		stage.Shown(stage.Button("New job")),
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

package e2e

import (
	"encoding/json"
	"fmt"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/chromedp/cdproto/fetch"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// What one saves stands on another's sheet at once, who is told of it and keeps
// what is being entered; also after the server has cut the line.
func TestSheetsAreLive(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower())
	other := b.colleague(store.Technician, "/jobs/"+id+"?at=strength")
	other.do(enter("Volts at the end", "9.7"))
	b.post("/api/jobs/"+id+"/readings", sent(newID(), rested(12.24)))
	other.do(reads("Meanwhile"), reads(b.person.Name+" saved Rest volts 12.24 V"))
	if kept := other.value("Volts at the end"); kept != "9.7" {
		t.Errorf("the entry became %q", kept)
	}
	other.do(click("Seen"), offline(true), reads("No line to the server"))
	b.post("/api/jobs/"+id+"/readings", sent(newID(), rested(12.31)))
	other.do(offline(false), reads(b.person.Name+" saved Rest volts 12.31 V"))
}

// An id that was spent by a save whose answer was lost is no dead end: what was
// saved is kept and named, and what is entered now is saved beside it.
func TestSpentID(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower())
	b.do(enter("Meter reads", "12.2"), reads("If this is saved"))
	var draft string
	b.do(chromedp.Evaluate(`JSON.parse(localStorage[Object.keys(localStorage).find(k => k.includes(".rest_voltage"))]).id`, &draft))
	b.post("/api/jobs/"+id+"/readings", sent(draft, rested(12.2)))
	b.do(enter("Meter reads", "4"), click("Save, go on"), reads("Rest volts 12.20 V was kept"), click("Save, go on"),
		goneOn("Rest volts"))
	if got := b.saved(id); len(got) != 2 || got[0]["volts"] != 12.2 || got[1]["volts"] != 12.24 {
		t.Errorf("saved %v", got)
	}
	// The same of a new job.
	b.do(chromedp.KeyEvent("n"), click("Boat"), reads("typical"))
	b.do(chromedp.Evaluate(`JSON.parse(localStorage[Object.keys(localStorage).find(k => k.includes(".newjob"))]).id`, &draft))
	b.post("/api/jobs", json.RawMessage(fmt.Sprintf(
		`{"id":%q,"vehicle":{"class":"boat","name":"First boat"},"battery":{"chemistry":"agm","rating":{}}}`, draft)))
	b.do(click("Open the job"), reads("First boat was opened"), click("Open the job"), reads("Take the rest voltage first."))
	if at := b.path(); strings.Contains(at, draft) {
		t.Errorf("the second boat is the first: %s", at)
	}
}

// While the answer about a figure is out, or fails, its stick and verdict are
// greyed and say so.
func TestPreviewThatFails(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	b.newJob(mower(), rested(12.65))
	judging := func(want string) chromedp.Action {
		return stage.Shown(`[data-judging="` + want + `"]`)
	}
	b.do(goTo("Rest volts"), click("Read again"), enter("Meter reads", "12.1"), reads("If this is saved"), judging("done"))
	// Slow: held back on its way.
	held := make(chan struct{})
	var broken atomic.Bool
	chromedp.ListenTarget(b.ctx, func(event any) {
		if e, ok := event.(*fetch.EventRequestPaused); ok {
			go func() {
				<-held
				fail := chromedp.Action(fetch.FailRequest(e.RequestID, network.ErrorReasonConnectionReset))
				if broken.Load() {
					fail = fetch.FulfillRequest(e.RequestID, 500)
				}
				_ = chromedp.Run(b.ctx, fail)
			}()
		}
	})
	b.do(fetch.Enable().WithPatterns([]*fetch.RequestPattern{{URLPattern: "*/preview"}}), enter("Meter reads", "5"), judging("working"))
	close(held)
	b.do(judging("failed"), reads("Not worked out"), reads("Before this figure"), enter("Meter reads", kb.Backspace))
	// The line stands, and the server breaks.
	broken.Store(true)
	b.do(stage.Gone(`//*[contains(text(), "No line")]`), enter("Meter reads", "7"), judging("failed"),
		reads("Not worked out"), fetch.Disable(), enter("Meter reads", kb.Backspace), judging("done"))
}

// What was saved, handed over or begun anew can be undone from where it was done.
func TestUndo(t *testing.T) {
	b := anew(t, stage.Desktop, "C")
	id := b.newJob(mower())
	b.do(enter("Meter reads", "12.24"), reads("If this is saved"), click("Save, go on"), reads("Saved: Rest volts 12.24 V"),
		click("Undo"), reads("It stays in the history"), reads("History, 1 reading"))
	if got := b.saved(id); len(got) != 0 {
		t.Errorf("taken back, and still in effect: %v", got)
	}
	// A correction that is undone leaves what it corrected.
	id = b.newJob(mower(), rested(12.6))
	b.do(goTo("Rest volts"), click("Correct this one"), enter("Meter reads", "12.1"), reads("If this is saved"),
		click("Save, go on"), click("Undo"), reads("Taken back"), goTo("Rest volts"), reads("History, 3 readings"))
	if got := b.text("[data-testid=figure]"); !strings.HasPrefix(got, "12.60") {
		t.Errorf("after undoing the correction it reads %s", got)
	}
	if got := b.saved(id); len(got) != 1 || got[0]["volts"] != 12.6 {
		t.Errorf("after undoing the correction there are %v", got)
	}
	b.do(goTo("Hand over"), click("Close the job"), reads("is handed over"), click("Undo"), reads("Close the job"))
	b.do(chromedp.KeyEvent("n"), click("Boat"), click("Start over"), reads("Pick what it is for"), click("Undo"),
		reads("typical"))
}

// The clock calls on a device where nobody has the job open: in words, in the
// title, in sound and as a notice of the browser; only when the rest is over, and not for one that is stopped.
func TestTheClockCalls(t *testing.T) {
	t.Parallel()
	b := open(t, stage.Desktop) // in a workshop where nothing else has come
	b.signInWith(newPerson(t, newWorkshop(t).ID, "", "C").Name, phrase)
	rest := func(id string, ends time.Time) {
		_, err := theatre.Store.DB().Exec(`INSERT INTO rest (workshop_id, id, job_id, starts_at, ends_at, begun_by)
			SELECT workshop_id, ?, id, opened_at, ?, opened_by FROM job WHERE id = ?`, newID(), ends.UTC(), id)
		must(t, err)
		_, err = theatre.Store.DB().Exec(`UPDATE job SET touched_at = ? WHERE id = ?`, time.Now().UTC(), id)
		must(t, err)
	}
	// What was over before anybody looked stands on the clock, and is not called.
	old := b.newJob(mower())
	rest(old, time.Now().Add(-time.Minute))
	b.do(visit("/"), stage.Shown(`//aside//a[contains(., "rest over")]`),
		chromedp.Sleep(time.Second))
	if calls := b.count(`[role=status] button`); calls != 0 {
		t.Errorf("%d calls of what was over long ago", calls)
	}
	must(t, deleteRest(old)) // it would stand over the next
	id := b.newJob(mower())
	tag := b.text("h1")
	b.do(click("Floor"), reads("Next needs hands"), chromedp.Evaluate(`(() => {
		window.tones = 0;
		const start = OscillatorNode.prototype.start;
		OscillatorNode.prototype.start = function (...a) { window.tones++; return start.apply(this, a); };
		// Nobody looks at this tab, and notices are allowed.
		Object.defineProperty(document, "hidden", { get: () => true });
		window.notices = [];
		window.Notification = class { static permission = "granted"; constructor(text) { window.notices.push(text); } };
	})()`, nil))
	ends := time.Now().Add(4 * time.Second)
	rest(id, ends)
	b.do(stage.Shown(`//aside//a[contains(., "` + tag + `") and contains(., "rest ends")]`))
	if time.Now().After(ends) {
		t.Fatal("too late to see it coming")
	}
	if calls := b.count(`[role=status] button`); calls != 0 {
		t.Errorf("%d notices stand before anything is over", calls)
	}
	b.do(stage.Shown(`//*[@role="status"]//button[.="Go"]`), reads("Rest over: take the volts"), stage.Shown(`//aside//a[contains(., "`+tag+`") and contains(., "rest over")]`))
	if before := time.Until(ends); before > 0 {
		t.Errorf("called %s too early", before)
	}
	var title string
	var tones int
	var notices []string
	b.do(chromedp.Title(&title), chromedp.Evaluate(`window.tones`, &tones), chromedp.Evaluate(`window.notices`, &notices))
	if !strings.Contains(title, tag) || tones != 3 || len(notices) != 1 || !strings.Contains(notices[0], tag) {
		t.Errorf("title %q, %d tones, notices %q", title, tones, notices)
	}
	b.do(click("Go"), stage.Shown(`//h1[contains(., "`+tag+`")][not(ancestor::article)]`), reads("Rest over"))
	// On a device that is to be silent it calls in words alone.
	must(t, deleteRest(id))
	id = b.newJob(mower())
	tag = b.text("h1")
	b.do(click("Floor"), reads("Next needs hands"), press(`//header//button[@aria-haspopup="menu"]`), press(`//*[@role="menuitemcheckbox"][contains(., "Calls with sound")]`), chromedp.KeyEvent(kb.Escape),
		chromedp.Evaluate(`(() => {
			window.tones = 0;
			const start = OscillatorNode.prototype.start;
			OscillatorNode.prototype.start = function (...a) { window.tones++; return start.apply(this, a); };
		})()`, nil))
	rest(id, time.Now().Add(3*time.Second))
	b.do(reads(tag+" Test mower. Rest over: take the volts"), chromedp.Evaluate(`window.tones`, &tones))
	if tones != 0 {
		t.Errorf("%d tones on a silent device", tones)
	}
}

func deleteRest(job string) error {
	_, err := theatre.Store.DB().Exec(`DELETE FROM rest WHERE job_id = ?`, job)
	return err
}

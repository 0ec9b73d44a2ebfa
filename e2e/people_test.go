package e2e

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/pquerna/otp/totp"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// types replaces what stands in the field within a label.
func types(label, value string) chromedp.Action {
	field := fmt.Sprintf(`//label[starts-with(normalize-space(.), "%s")]//input`, label)
	return chromedp.Tasks{stage.Shown(field), chromedp.Evaluate(fmt.Sprintf(`(() => {
		const e = document.evaluate(%q, document, null, XPathResult.FIRST_ORDERED_NODE_TYPE, null).singleNodeValue;
		e.focus(); e.select(); return 1;
	})()`, field), nil), stage.Type(field, value)}
}

// item presses an entry of an open menu.
func item(words string) chromedp.Action {
	return press(`//*[@role="menuitem"][contains(normalize-space(.), "` + words + `")]`)
}

// The life of an account, by both sides of it: a lead adds somebody, who may do nothing
// before the temporary passphrase is changed; makes them a lead, closes the account, and
// all of it stands in the history.
func TestAccounts(t *testing.T) {
	lead := asLead(t)
	name := "D " + newID()[24:]
	lead.do(
		visit("/people"),
		reads("without a second factor"),
		click("Add somebody"),
		types("Name, to sign in by", name),
		types(
			"Temporary passphrase",
			"short",
		),
		click("Add"),
		reads("at least 12 are needed"),
		types("Temporary passphrase", "temporary 9 kettles lamp"),
		click("Add"),
		reads(name+" can come in now"),
		reads("has a temporary passphrase, good until "),
	)
	dora := open(t, stage.Desktop)
	dora.do(
		visit("/"),
		types("Name", name),
		types("Passphrase", "temporary 9 kettles lamp"),
		click("Sign in"),
		reads("Welcome, "+name),
		types(
			"The temporary passphrase",
			"temporary 9 kettles lamp",
		),
		types("New passphrase", "password123456"),
		click("Change the passphrase"),
		reads("easy to guess"),
		types("New passphrase", "blue kettle morning"),
		click("Change the passphrase"),
		reads("The bench is clear"),
	)
	dora.do(visit("/people"), reads("Only a lead may do this"))
	row := func(what string) chromedp.Action {
		return chromedp.Tasks{
			visit("/people"),
			stage.Press(`//button[@aria-label="Change the account of ` + name + `"]`),
			item(what),
		}
	}
	lead.do(row("Make lead"), reads(name+" is now a lead."))
	dora.do(visit("/people"), reads("Nobody is ever deleted"))
	lead.do(row("Make technician"), reads(name+" is now a technician."), row("Close the account"), reads("Account closed since"))
	dora.do(
		visit("/"),
		reads("Passphrase"),
		types("Name", name),
		types("Passphrase", "blue kettle morning"),
		click("Sign in"),
		reads("This account is closed"),
	)
	lead.do(
		row("Open the account again"),
		reads("may come in again"),
		row("Temporary passphrase"),
		types("Temporary passphrase for "+name, "another 7 paper lamps"),
		click("Set it"),
		reads("comes in with the temporary passphrase"),
	)
	dora.do(
		types("Passphrase", "blue kettle morning"),
		click("Sign in"),
		reads("do not match"),
		types("Passphrase", "another 7 paper lamps"),
		click("Sign in"),
		reads("Welcome, "+name),
	)
	lead.do(
		visit("/history"),
		reads("Passphrase set "+name),
		reads("Person added "+name),
		reads("Role: technician → lead"),
		click("Sign-ins"),
		reads("Sign-in failed "+name),
		reads("Address: 127.0.0.1"),
	)
}

// On a shared tablet somebody comes in by PIN in place of whoever is in, and from the
// page where one signs in.
func TestChangeOfPersonByPIN(t *testing.T) {
	ws := newWorkshop(t)
	one, two := newPerson(t, ws.ID, "", "C"), newPerson(t, ws.ID, "", "C")
	t.Parallel()
	b := open(t, stage.Tablet)
	b.signInWith(one.Name, phrase)
	pin := `(//section[.//h2="PIN"]//input)`
	b.do(
		visit("/account"),
		stage.Type(pin+"[1]", phrase),
		stage.Type(pin+"[2]", "2580"),
		click("Set the PIN"),
		reads("The PIN is set."),
		reads("You have one."),
	)
	signOut := chromedp.Tasks{
		press(`//button[contains(@aria-label, "your settings")]`),
		item("Sign out"),
		stage.Shown(stage.Button("Sign in")),
		reads("Here today, by PIN"),
	}
	b.do(signOut)
	b.do(
		types("Name", two.Name),
		types("Passphrase", phrase),
		click("Sign in"),
		stage.Shown(`button[aria-label^="`+two.Name+`"]`),
	)
	b.do(
		press(`//button[contains(@aria-label, "your settings")]`),
		item("Change to "+one.Name),
		types("PIN of "+one.Name, "0007"),
		click("Come in as"),
		reads("The PIN does not match."),
		types(
			"PIN of "+one.Name,
			"2580",
		),
		click("Come in as"),
		stage.Shown(`button[aria-label^="`+one.Name+`"]`),
	)
	b.do(
		visit("/account"),
		reads("You came in by PIN"),
		visit("/"),
		signOut,
		click(one.Name),
		types("PIN of "+one.Name, "2580"),
		click("Come in as"),
		stage.Shown(`button[aria-label^="`+one.Name+`"]`),
	)
}

// A lead sets up a second factor, and from then on a code is asked for.
func TestSecondFactor(t *testing.T) {
	lead := asLead(t)
	part := `//section[.//h2="Second factor"]`
	lead.do(
		visit("/account"),
		stage.Type(part+"//input", phrase),
		click("Set it up"),
		reads("Scan it with an authenticator"),
		until(`document.querySelector("img[alt^='The secret']").naturalWidth > 100`),
	)
	secret := strings.TrimSpace(lead.text(`p.select-all`))
	code := func() string {
		c, err := totp.GenerateCode(secret, time.Now())
		must(t, err)
		return c
	}
	first := code()
	lead.do(
		types("The code it shows now", "000000"),
		click("Turn it on"),
		reads("The code does not match"),
		types("The code it shows now", first),
		click("Turn it on"),
		reads("Keep these recovery codes"),
	)
	recovery := lead.text(`ul.select-all li`)
	lead.do(click("I have kept them"), reads("It is on."))
	var name string
	lead.do(chromedp.Text("main h1", &name, chromedp.ByQuery))
	b := open(t, stage.Phone)
	b.do(
		visit("/"),
		types("Name", name),
		types("Passphrase", phrase),
		click("show"),
		until(`document.querySelector("[name=passphrase]").type === "text"`),
		click("hide"),
		until(`document.querySelector("[name=passphrase]").type === "password"`),
		click("Sign in"),
		reads("Enter the code your second factor shows now"),
		until(`!document.querySelector("[aria-invalid=true]")`), // the passphrase was right
		types(
			"Code",
			first,
		),
		click("Sign in"),
		reads("The code does not match"),
		types("Code", recovery),
		click("Sign in"),
		reads("The bench is clear"),
	)
}

// A floor of more jobs than one part holds says so, counts them all, and shows the rest
// when it is asked to.
func TestLongFloor(t *testing.T) {
	ctx := context.Background()
	ws := newWorkshop(t)
	me := newPerson(t, ws.ID, "", "C")
	cca := 300.0
	const n = 203
	for i := range n {
		must(
			t,
			theatre.Store.AddJob(
				ctx,
				ws.ID,
				store.Job{
					ID:      newID(),
					Vehicle: reading.Vehicle{Class: "mower", Name: fmt.Sprintf("Mower %d", i), SystemVolts: 12},
					Battery: reading.Battery{
						Tag:       fmt.Sprintf("K-%04d", i),
						Chemistry: battery.Flooded,
						Rating:    reading.Rating{CCA: &cca, Standard: "SAE"},
					},
					Rules:      rules.Default(),
					OpenedByID: me.ID,
				},
				nil,
			),
		)
	}
	t.Parallel()
	b := open(t, stage.Desktop)
	b.signInWith(me.Name, phrase)
	b.do(
		reads("203 batteries wait for hands"),
		reads("200 of 203 shown"),
		click("Show 3 more"),
		until(`document.querySelectorAll("main li").length === 203`),
	)
	b.do(stage.Type(`input[type=search]`, "mower 2"), reads("14 jobs"))
}

// A new job under the tag of another battery asks whose it is before any label is
// replaced; what was changed of a job stands in its history.
func TestTagOfAnotherBattery(t *testing.T) {
	me := newPerson(t, newWorkshop(t).ID, "", "C")
	t.Parallel()
	b := open(t, stage.Desktop)
	b.signInWith(me.Name, phrase)
	b.newJob(mower())
	b.do(
		visit("/jobs/new"),
		click("Mower"),
		click("Turns slowly"),
		click("230 CCA"),
		types("Shop tag", "k-0001"),
		click("Open the job"),
		reads(
			"Is it the same battery?",
		),
		until(`(() => { // where it is seen, with nothing over it
			const b = [...document.querySelectorAll("button")].find(e => e.textContent.startsWith("Another one")).getBoundingClientRect();
			return document.elementFromPoint(b.left + b.width / 2, b.top + b.height / 2)?.textContent.startsWith("Another one");
		})()`),
		click("Another one"),
		reads("K-0002"),
		goTo("Arrive"),
		types("Customer", "Hall"),
		click("Save the changes"),
		goneOn("Arrive"),
	)
	b.do(
		goTo("Arrive"),
		click("What was changed of this job"),
		reads("Details changed"),
		reads("Customer: Hall"),
		reads("Job opened"),
	)
	if got := b.text("main"); strings.Contains(got, "Meanwhile") {
		t.Error("one's own change is told as somebody else's")
	}
}

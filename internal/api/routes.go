package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/internal/photo"
)

// route adds one operation to the description and to the server.
type route func(huma.API)

// routes lists every operation: method, path, name, what it does, who answers.
func (s *server) routes(api huma.API) {
	api.UseMiddleware(s.whoIsIt(api))
	for _, add := range s.transferRoutes() {
		add(api)
	}
	for _, add := range []route{
		at(http.MethodGet, "/session", "getSession", "Who is signed in", s.getSession, forAnybody),
		at(http.MethodPost, "/session", "signIn", "Sign in with name and passphrase", s.signIn, forAnybody),
		at(http.MethodDelete, "/session", "signOut", "Sign out", s.signOut, forAnybody, withoutAnswer),
		at(http.MethodPost, "/session/switch", "switchPerson", "Come in by PIN, in place of whoever is in on this device",
			s.switchPerson, forAnybody),
		at(http.MethodPut, "/session/passphrase", "setPassphrase", "Change one's own passphrase; the other sessions end",
			s.setPassphrase, needs(needChange)),
		at(http.MethodPut, "/session/pin", "setPIN", "Choose a PIN for devices one shares, or take it away", s.setPIN,
			needs(needFull)),
		at(http.MethodGet, "/session/devices", "getDevices", "Where one is signed in", s.getDevices),
		at(http.MethodDelete, "/session/devices", "endOthers", "End all of one's sessions but this", s.endOthers),
		at(http.MethodDelete, "/session/devices/{id}", "endDevice", "End one of one's sessions", s.endDevice),
		at(http.MethodPost, "/session/second-factor", "offerSecond", "Begin to set up a second factor", s.offerSecond,
			needs(needFull)),
		at(http.MethodPut, "/session/second-factor", "proveSecond", "Turn the second factor on with a code of it",
			s.proveSecond, needs(needFull)),
		at(http.MethodDelete, "/session/second-factor", "dropSecond", "Turn the second factor off", s.dropSecond,
			needs(needFull)),

		at(http.MethodGet, "/people", "getPeople", "Everybody of the workshop; a lead only", s.getPeople, needs(needLead)),
		at(http.MethodPost, "/people", "addPerson", "Add somebody with a temporary passphrase; a lead only", s.addPerson,
			needs(needFullLead)),
		at(http.MethodPut, "/people/{id}", "changePerson", "Change somebody's role, close or open their account; a lead only",
			s.changePerson, needs(needFullLead)),
		at(http.MethodPut, "/people/{id}/passphrase", "setTemporary", "Give somebody a temporary passphrase; a lead only",
			s.setTemporary, needs(needFullLead)),
		at(http.MethodDelete, "/people/{id}/sessions", "endPersons", "End somebody's sessions; a lead only", s.endPersons,
			needs(needFullLead)),
		at(http.MethodDelete, "/people/{id}/second-factor", "dropPersons", "Turn somebody's second factor off; a lead only",
			s.dropPersons, needs(needFullLead)),
		at(http.MethodGet, "/history", "getHistory", "What was changed in the workshop, by whom and when; a lead only",
			s.getHistory, needs(needLead)),
		at(http.MethodGet, "/jobs/{id}/history", "getJobHistory", "What was changed of a job, by whom and when", s.getJobHistory),
		at(http.MethodPut, "/session/preferences", "setPreferences", "Set temperature scale and theme",
			s.setPreferences),

		at(http.MethodGet, "/jobs", "listJobs", "Jobs by what they wait for", s.listJobs),
		at(http.MethodPost, "/jobs", "addJob", "Open a job; may be repeated with the same id", s.addJob),
		at(http.MethodGet, "/jobs/{id}", "getJob", "The job sheet with its judgement", s.getJob),
		at(http.MethodPut, "/jobs/{id}", "changeJob", "Change a job's details; readings stay", s.changeJob),
		at(http.MethodPost, "/jobs/{id}/close", "closeJob",
			"Hand over and close; not while something is off, unless a lead says why", s.closeJob),
		at(http.MethodGet, "/jobs/{id}/guides/{what}", "getGuide", "A guide made for this vehicle, and how far it has come",
			s.getGuide),
		at(http.MethodPost, "/jobs/{id}/guides/{what}", "beginGuide",
			"Begin a guide, or go on with the one that runs; may be repeated with the same id", s.beginGuide),
		at(http.MethodPut, "/jobs/{id}/guides/{what}", "setGuideSite",
			"Say how the vehicle of a guide is; what is done stays done", s.setGuideSite),
		at(http.MethodPost, "/jobs/{id}/guides/{what}/events", "addGuideEvent",
			"Tick a step, take that back, skip it, put a part back by hand; may be repeated with the same id", s.addGuideEvent),
		at(http.MethodGet, "/jobs/{id}/fit", "getFit",
			"What on the shelf suits the vehicle of a job, and why the first is the first", s.getFit),
		at(http.MethodPut, "/jobs/{id}/needs", "setNeeds", "Say what the maker of a job's vehicle asks of its battery",
			s.setNeeds, asItCame),
		at(http.MethodPost, "/fit", "rankFit", "Rank a shelf from a grapnel.fit_request/1 document", s.rankFit, asItCame),
		at(http.MethodGet, "/stock", "getStock", "What stands on the shelf", s.getStock),
		at(http.MethodPost, "/stock", "addStock", "Put a battery on the shelf; may be repeated", s.addStock, asItCame),
		at(http.MethodPut, "/stock/{tag}", "changeStock", "Change a battery on the shelf, or take it off", s.changeStock,
			asItCame),
		at(http.MethodPost, "/stock/{tag}/job", "testStock",
			"Open a sheet to test or charge a battery of the shelf; may be repeated with the same id", s.testStock),
		at(http.MethodGet, "/stock/csv", "exportStock", "The shelf as a table", s.exportStock),
		at(http.MethodPost, "/stock/csv", "importStock",
			"Put batteries on the shelf from a table, all or none; may be repeated", s.importStock),
		at(http.MethodPost, "/jobs/{id}/reopen", "reopenJob", "Open a closed job again", s.reopenJob),

		at(http.MethodPost, "/jobs/{id}/readings", "addReading",
			"Add a reading, or correct one; may be repeated with the same id", s.addReading),
		at(http.MethodPost, "/jobs/{id}/readings/{reading}/withdraw", "withdrawReading",
			"Take a reading back; it stays in the history. May be repeated with the same id", s.withdrawReading),
		at(http.MethodPost, "/jobs/{id}/preview", "previewReading",
			"What the sheet would say with a reading, without saving it", s.previewReading),
		at(http.MethodPost, "/jobs/{id}/rests", "addRest", "Let the battery rest; may be repeated with the same id",
			s.addRest),
		at(http.MethodDelete, "/jobs/{id}/rests", "endRests", "End the rest that runs", s.endRests),

		at(http.MethodPost, "/assess", "assessCase", "Assess a grapnel.case/1 document without keeping it",
			s.assessCase, asItCame),
		at(http.MethodGet, "/jobs/{id}/charge", "getCharge",
			"What the charge of a battery on its charger will do, before the last look and after it",
			s.getCharge),
		at(http.MethodGet, "/jobs/{id}/case", "exportCase", "The job as a grapnel.case/1 document", s.exportCase),
		at(http.MethodPost, "/cases", "importCase",
			"Open a job from a grapnel.case/1 document; may be repeated with the same id", s.importCase, asItCame),

		at(http.MethodGet, "/jobs/{id}/papers", "getPapers",
			"Notes, photos and estimates of a job, and what is proposed for handing it over", s.getPapers),
		at(http.MethodPost, "/jobs/{id}/notes", "addNote", "Write a note; may be repeated with the same id", s.addNote),
		at(http.MethodPut, "/jobs/{id}/notes/{paper}", "takeBackNote", "Take a note back, or put it back; it stays", s.takeBackNote),
		at(http.MethodPost, "/jobs/{id}/photos", "addPhoto",
			"Keep a picture, encoded anew; may be repeated with the same id", s.addPhoto, brings(photo.MostBytes)),
		at(http.MethodGet, "/jobs/{id}/photos/{photo}", "getPhoto", "A picture as JPEG", s.getPhoto),
		at(http.MethodPut, "/jobs/{id}/photos/{paper}", "takeBackPhoto", "Take a picture back, or put it back; it stays", s.takeBackPhoto),
		at(http.MethodPost, "/jobs/{id}/estimates", "addEstimate",
			"Keep an estimate in place of the one before; may be repeated with the same id", s.addEstimate),
		at(http.MethodPost, "/jobs/{id}/estimates/{estimate}/answers", "answerEstimate",
			"Note that an estimate is accepted or declined, and by whom; may be repeated with the same id", s.answerEstimate),
		at(http.MethodGet, "/jobs/{id}/report", "getReport", "The report of a job on one or two pages, as PDF", s.getReport),
		at(http.MethodGet, "/jobs/{id}/reset-tag", "getResetTag", "The tag for the mirror: what its owner has to set again, as PDF",
			s.getResetTag),
		at(http.MethodGet, "/labels", "getLabels", "Labels for batteries and keys, as PDF", s.getLabels),
		at(http.MethodGet, "/batteries/{tag}/sheet", "openTag", "Where the code on a label leads", s.openTag),
		at(http.MethodGet, "/jobs/{id}/calendar", "getCalendar", "The dates of a job as iCalendar", s.getCalendar),
		at(http.MethodGet, "/shop/feed", "getShopFeed", "Whether the workshop has a calendar address", s.getShopFeed),
		at(http.MethodPost, "/shop/feed", "makeShopFeed", "Make the workshop a new calendar address; the one before is over. A lead only",
			s.makeShopFeed, needs(needLead)),
		at(http.MethodDelete, "/shop/feed", "dropShopFeed", "Take the workshop’s calendar address away; a lead only", s.dropShopFeed,
			needs(needLead)),
		at(http.MethodPost, "/cost", "addUp", "What an estimate comes to, without keeping it", s.addUp),
		at(http.MethodGet, "/prices", "getPrices", "The price list", s.getPrices),
		at(http.MethodPut, "/prices", "setPrices", "Change the price list; a lead only", s.setPrices, needs(needLead)),

		at(http.MethodGet, "/choices", "getChoices", "What a new job picks from, with what is usual", s.getChoices),
		at(http.MethodGet, "/terms", "getTerms", "Words of the trade, explained", s.getTerms),
		at(http.MethodGet, "/batteries/{tag}", "getBattery", "The label last read from the battery of a tag",
			s.getBattery),
		at(http.MethodGet, "/batteries/{tag}/life", "getLife",
			"A battery's life: its tests on one line, its jobs, and the week it fails in",
			s.getLife),
		at(http.MethodPut, "/batteries/{tag}/twin", "setTwin",
			"Name the battery that carries one vehicle together with this one", s.setTwin),
		at(http.MethodGet, "/register", "getRegister", "Every battery, what fails soonest first", s.getRegister),
		at(http.MethodPut, "/climate", "setLows", "Type the coldest nights of the place, by month; a lead only", s.setLows),
		at(http.MethodGet, "/clock", "getClock", "Every moment of the shop that needs hands, soonest first",
			s.getClock),
		at(http.MethodPut, "/jobs/{id}/moments/{kind}", "sayMoment",
			"Say of a moment that it is done, put it off, hand it to somebody; nothing takes that back",
			s.sayMoment),
		at(http.MethodPost, "/demo/clock", "moveClock", "Move the demo workshop's clock on; nothing but the demo has this",
			s.moveClock),
		at(http.MethodGet, "/colleagues", "getColleagues", "Whom a moment can be handed to", s.getColleagues),
		at(http.MethodGet, "/jobs/{id}/charge/plan", "planCharge",
			"What a charge would do, what forbids it, what to mind and how it is connected",
			s.planCharge),
		at(http.MethodGet, "/jump", "getJumpKit", "What a jump start is planned with in few taps, as the house does it",
			s.getJumpKit),
		at(http.MethodPost, "/jump", "planJump", "Plan a jump start from a grapnel.jump_request/1 document, or for a job's battery", s.planJump, asItCame),
		at(http.MethodGet, "/season", "getSeason", "What stands, what is nearest to harm first", s.getSeason),
		at(http.MethodPost, "/season/plan", "planSeason",
			"Plan a season from a grapnel.season_request/1 document; one without a place stands at the shop’s", s.planSeason, asItCame),
		at(http.MethodGet, "/jobs/{id}/season", "proposeSeason", "A season as the sheet of a job has it", s.proposeSeason),
		at(http.MethodGet, "/season/round", "getRound", "This week’s round over a lot, in the order it is walked", s.getRound),
		at(http.MethodPut, "/season/place", "setPlace", "Type how warm the months of the place are; a lead only", s.setPlace),
		at(http.MethodPut, "/season/weather", "setWeather", "Type days as they were, or as they are forecast", s.setWeather),
		at(http.MethodPost, "/season/place/csv", "importPlace", "Take the months of the place from a table; a lead only", s.importPlace),
		at(http.MethodPost, "/season/weather/csv", "importWeather", "Take days as they were or are forecast from a table", s.importWeather),
		at(http.MethodPost, "/season/csv", "importLot", "Put the batteries of a table away, all or none; may be repeated", s.importLot),
		at(http.MethodGet, "/season/csv", "exportLot", "What stands as a table", s.exportLot),
		at(http.MethodGet, "/season/feed", "getFeed", "Whether one has a calendar address", s.getFeed),
		at(http.MethodPost, "/season/feed", "makeFeed", "Make a new calendar address; the one before is over", s.makeFeed),
		at(http.MethodDelete, "/season/feed", "dropFeed", "Take the calendar address away", s.dropFeed),
		at(http.MethodGet, "/season/{id}", "getStored", "A battery that stands, with its season", s.getStored),
		at(http.MethodPost, "/season/{id}", "addStored", "Put a battery away; may be repeated with the same id", s.addStored, asItCame),
		at(http.MethodPut, "/season/{id}", "changeStored", "Change how a battery is kept", s.changeStored, asItCame),
		at(http.MethodPost, "/season/{id}/looks", "addStoredLook", "Keep what was seen of it; may be repeated with the same id",
			s.addStoredLook),
		at(http.MethodPost, "/season/{id}/looks/{look}/withdraw", "takeBackLook", "Take a look back; it stays, and no longer counts",
			s.takeBackLook),
		at(http.MethodPost, "/season/{id}/job", "openStored",
			"Open a sheet for a battery that stands; may be repeated with the same id", s.openStored),
		at(http.MethodPost, "/season/{id}/swap", "swapStored",
			"Put a charged battery of the shelf in the place of one that stands; may be repeated with the same id", s.swapStored),
		at(http.MethodPost, "/season/{id}/wake", "wakeStored", "It is woken, or put away after all", s.wakeStored),
		at(http.MethodGet, "/bank", "getBank", "The shop's chargers, what hangs on them and what waits for them, in order",
			s.getBank),
		at(http.MethodPost, "/bank/chargers", "addCharger", "Add a charger; may be repeated with the same id", s.addCharger),
		at(http.MethodPut, "/bank/chargers/{id}", "changeCharger", "Change a charger, or retire it", s.changeCharger),
		at(http.MethodPost, "/bank/hang", "hang", "Hang a battery on a charger of the shop; may be repeated with the same id", s.hang),
		at(http.MethodGet, "/bank/tagged", "getTagged", "The job in hand of a tag", s.getTagged),
		at(http.MethodPut, "/bank/order", "setBankOrder",
			"Keep one's own order of what waits for a charger, or go back to the one proposed",
			s.setBankOrder),
		at(http.MethodGet, "/rules", "getRules", "The house rules and the schools to choose from", s.getRules),
		at(http.MethodPut, "/rules", "setRules", "Choose the house rules; a lead only. Open jobs keep theirs",
			s.setRules),
	} {
		add(api)
	}
}

// at is the route of an operation that needs somebody signed in, unless an option
// says otherwise.
func at[I, O any](
	method, path, id, summary string,
	answer func(context.Context, *I) (*O, error),
	options ...func(*huma.Operation),
) route {
	o := huma.Operation{Method: method, Path: "/api" + path, OperationID: id, Summary: summary,
		Security: []map[string][]string{{"session": {}}}, MaxBodyBytes: mostBody}
	for _, option := range options {
		option(&o)
	}
	return func(api huma.API) { huma.Register(api, o, answer) }
}

// needs says how far somebody has to be in for an operation.
func needs(n need) func(*huma.Operation) {
	return func(o *huma.Operation) { o.Metadata = map[string]any{needed: n} }
}

// brings says how much a request of an operation may bring, where that is more than usual.
func brings(most int64) func(*huma.Operation) {
	return func(o *huma.Operation) { o.MaxBodyBytes = most }
}

// forAnybody marks an operation as one that needs nobody signed in.
func forAnybody(o *huma.Operation) { o.Security = nil }

// withoutAnswer marks an operation as one that answers with nothing.
func withoutAnswer(o *huma.Operation) { o.DefaultStatus = http.StatusNoContent }

// asItCame leaves the checking of a body to core, which names every fault in it.
func asItCame(o *huma.Operation) { o.SkipValidateBody = true }

// nothing is the input of an operation that takes none.
type nothing struct{}

// reply is an answer with a body.
type output[T any] struct{ Body T }

func replied[T any](body T) (*output[T], error) { return &output[T]{body}, nil }

package modules

import "testing"

// Figures as they are typed and written: comma or point, either minus; nothing else is one.
func TestFigures(t *testing.T) {
	m := load(t, "", []string{"lib/units.ts", "lib/figures.ts"})
	m.is([][2]string{
		{`m.readNumber("12.64")`, "12.64"}, {`m.readNumber("12,64")`, "12.64"}, {`m.readNumber(" 12.6 ")`, "12.6"},
		{`m.readNumber("−3")`, "-3"}, {`m.readNumber("-3")`, "-3"}, {`m.readNumber("+3")`, "3"}, {`m.readNumber(".5")`, "0.5"},
		{`m.readNumber("5.")`, "5"}, {`m.readNumber("0")`, "0"}, {`m.readNumber("")`, "undefined"}, {`m.readNumber("−")`, "undefined"},
		{`m.readNumber("twelve")`, "undefined"}, {`m.readNumber("1.2.3")`, "undefined"}, {`m.readNumber("1e3")`, "undefined"},
		{`m.readNumber("0x10")`, "undefined"}, {`m.readNumber("1 2")`, "undefined"}, {`m.readNumber("١")`, "undefined"},
		{`m.showNumber(-0.5, 1)`, `"−0.5"`}, {`m.showNumber(12.345, 2)`, `"12.35"`},
		// °F by its definition: 0 °C is 32, 100 °C is 212, both meet at −40.
		{`[0, 100, -40].map(c => m.toScale(c, "F"))`, "[32,212,-40]"}, {`[32, 212, -40].map(f => m.fromScale(f, "F"))`, "[0,100,-40]"},
		{`m.toScale(21, "C")`, "21"}, {`m.fromScale(21, "C")`, "21"}, {`m.riseIn(10, "F")`, "18"}, {`m.riseIn(10, "C")`, "10"},
		{`m.showTemp(-10, "C")`, `"−10"`}, {`m.showTemp(-10, "F")`, `"14"`}, {`m.unitOf("°C", "F")`, `"°F"`}, {`m.unitOf("V", "F")`, `"V"`},
		// As hydrometers are read aloud.
		{`["1265", "265", "1.265", "1,265"].map(m.gravity)`, `["1.265","1.265","1.265","1.265"]`}, {`m.gravity("12")`, `"12"`},
		{`m.keep("12.6 V at 21 °C")`, "\"12.6\u00a0V at 21\u00a0°C\""}, {`m.keep("5 Vans")`, `"5 Vans"`},
		{`(m.writeWith("comma"), m.written("12.65"))`, `"12,65"`}, {`m.showNumber(12.5, 1)`, `"12,5"`},
		{`(m.writeWith("point"), m.written("12.65"))`, `"12.65"`}, {`(m.writeWith(undefined), m.written("12.65"))`, `"12.65"`},
	}...)
}

// Spans and times as people say them, on both sides of where the wording changes.
func TestTimes(t *testing.T) {
	m := load(t, "", []string{"lib/time.ts", "lib/line.ts"})
	m.is([][2]string{
		{`[0, -5, 1, 60000, 60001, 99 * 60000, 99 * 60000 + 1].map(m.span)`, `["0 min","0 min","1 min","1 min","2 min","99 min","1 h 40"]`},
		{`[120, 125, 150, 180, 6000].map(min => m.span(min * 60000))`, `["2 h","2 h 05","2 h 30","3 h","100 h"]`},
		{`[0, 59999, 60000, 185 * 60000].map(m.waited)`, `["just now","just now","waits 1 min","waits 3 h 05"]`},
		{`[48 * 3600000 - 1, 48 * 3600000, 5 * 86400000 - 1].map(m.waited)`, `["waits 48 h","waits 2 days","waits 4 days"]`},
		{`[99, 100, 104, 105, 120, 135, 164].map(m.workTime)`, `["99 min","about 1½ h","about 1½ h","about 2 h","about 2 h","about 2½ h","about 2½ h"]`},
		{`[60, 99, 100, 480].map(m.restTime)`, `["60 min","99 min","2 h","8 h"]`},
	}...)
	// A time of today is a clock reading, any other has its date: by the server's clock, not
	// by the device's, in whatever zone this is.
	m.is([][2]string{
		{`m.when(new Date().toISOString()) === m.atTime(Date.now())`, "true"},
		{`m.when(new Date(Date.now() - 86400000).toISOString()) === m.atTime(Date.now())`, "false"},
		{`/^\d\d:\d\d$/.test(m.atTime(Date.now()))`, "true"},
		{`m.otherDay(Date.now())`, `""`}, {`m.otherDay(Date.now() + 86400000).endsWith(", ")`, "true"},
		{`(m.heard(new Response("", { headers: { date: new Date(Date.now() + 86400000).toUTCString() } })), m.otherDay(Date.now() + 86400000))`, `""`},
		{`m.when(new Date().toISOString()) === m.atTime(Date.now())`, "false"},
		{`(m.heard(new Response("", { headers: { date: new Date(Date.now() + 1000).toUTCString() } })), Math.abs(m.serverNow() - Date.now()) < 5)`, "true"},
	}...)
}

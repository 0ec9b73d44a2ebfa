package station

import (
	"grapnel/core/rules"
	"grapnel/core/words"
)

// otherSchools says what each school the house did not choose would have said.
func otherSchools(house rules.Rules, id string, say func(rules.School) words.Text) words.Text {
	others := house.Others(id)
	all := make([]words.Text, 0, len(others))
	for _, s := range others {
		all = append(all, say(s))
	}
	return words.Join("; ", all)
}

// schoolSays is a school and its answer, and whether the house says the same.
func schoolSays(school words.Text, answer string, same bool) words.Text {
	template := schoolAnswer
	if same {
		template += schoolSame
	}
	return words.Say(template, "school", school, "answer", answer)
}

const (
	schoolFigure = "{name} ({figure})"
	schoolAnswer = "{school}: {answer}"
	schoolSame   = ", same answer"
)

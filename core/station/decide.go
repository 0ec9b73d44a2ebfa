package station

// Decide is where the verdict stands, and where the work it asks for is noted.
const Decide = "decide"

func init() {
	register(Station{
		Code: Decide, Place: 120, Name: "Decide", Hint: "what is true, and what to do", Minutes: 5, Takes: Charged,
	})
}

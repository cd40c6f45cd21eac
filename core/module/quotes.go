package module

// quotes are the words that stated each fact. A listing states few: going through them is quicker than a map.
type quotes []struct{ fact, words string }

func (q quotes) of(fact string) string {
	for _, x := range q {
		if x.fact == fact {
			return x.words
		}
	}
	return ""
}

func (q *quotes) set(fact, words string) {
	for i, x := range *q {
		if x.fact == fact {
			(*q)[i].words = words
			return
		}
	}
	*q = append(*q, struct{ fact, words string }{fact, words})
}

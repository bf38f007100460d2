package judge

import (
	"fmt"
	"math"
)

// words writes a fact, of a cylinder as it stands after the cylinder's name: "is down 9 %".
func words(on *subject, f Fact) string {
	switch f.What {
	case Down:
		switch f.Against {
		case Baseline:
			return fmt.Sprintf("is down %.0f %%", f.Value)
		case Others:
			return fmt.Sprintf("stands %.0f %% below the others", f.Value)
		}
		return fmt.Sprintf("reads %.0f %% less than such an engine makes", f.Value)
	case LeakUp:
		if f.Against == Baseline {
			return fmt.Sprintf("leaks %.0f points more%s", f.Value, f.At)
		}
		return fmt.Sprintf("leaks %.0f points more than is usual%s", f.Value, f.At)
	case AirHeard:
		return "lets air out" + f.At
	case FoundBefore:
		return "was found changed at an earlier test, and nothing shows yet that it is right again"
	case MayBe:
		return fmt.Sprintf("is likelier wrong than its figures show by themselves (%.0f %%)", 100*f.Value)
	case LeaksMuch:
		return fmt.Sprintf("leaks %.0f %%, which is much by any school", f.Value)
	case BelowLeast:
		return fmt.Sprintf("reads below the least by %s, %s", f.By, f.Figure)
	case ApartTooFar:
		return fmt.Sprintf("stands %s below the highest, where %s allows %s", f.Reads, f.By, f.Figure)
	case LeaksTooMuch:
		return fmt.Sprintf("leaks %.0f %%, where %s allows %s", f.Value, f.By, f.Figure)
	case HardlyFires:
		return "reads less than the 90 to 100 psi that a petrol engine needs to fire well"
	case FaceLow:
		return fmt.Sprintf("has one face %.0f %% below the highest of its rotor", f.Value)
	case LeakDoubted:
		return fmt.Sprintf("leaks %.0f points more by one reading, which nothing bears out", f.Value)
	case LeakOnce:
		return fmt.Sprintf("leaks %.0f points more by one reading", f.Value)
	case PullOnce:
		return fmt.Sprintf("reads %.0f %% low by one reading", f.Value)
	case PullDoubted:
		if f.Value <= 0 {
			return "has pulls that do not agree, and nothing tells which is right"
		}
		return fmt.Sprintf("reads %.0f %% low, which is likelier the gauge than the cylinder", f.Value)
	case ColdUneven:
		return "cannot be told cold"
	case FellWithAll:
		return fmt.Sprintf("fell with all the others, by %.0f %%", f.Value)
	}
	return wordsOfVisit(on, f)
}

// wordsOfVisit writes a fact of the whole visit, a sentence.
func wordsOfVisit(on *subject, f Fact) string {
	who, several := on.names(f.Cylinders), len(f.Cylinders) > 1
	switch f.What {
	case AllMoved:
		if f.Value > 0 {
			return fmt.Sprintf("All read %.0f %% higher together.", f.Value)
		}
		return fmt.Sprintf("All moved together, down %.0f %%; no cylinder stands out.", -f.Value)
	case AllAsTested:
		return fmt.Sprintf("All read %.0f %% lower together, as the other way of testing may well make.", -f.Value)
	case AllLow:
		return fmt.Sprintf("All stand %.0f %% below the usual %s of %s: tired, or the gauge, battery, throttle or height.",
			f.Value, f.Figure, f.By)
	case Sank:
		return fmt.Sprintf(
			"Readings sank by %.0f %% from the first to the last, as a tired battery makes them; that is taken off.",
			f.Value,
		)
	case Stepped:
		more := "less"
		if f.Value > 0 {
			more = "more"
		}
		return fmt.Sprintf("From %s on all read %.0f %% %s: throttle or charger? That is taken off.", who, math.Abs(f.Value), more)
	case BankApart:
		return fmt.Sprintf("The banks stand %.0f %% apart: cam, or throttle of one bank?", math.Abs(f.Value))
	case PullLeftOut:
		return fmt.Sprintf("A pull of %s fits nothing else that is known, and is left out: a slip of the pen?", who)
	}
	return wordsOfRest(f, who, several)
}

// wordsOfRest writes what stood, what is new, and what was not compared.
func wordsOfRest(f Fact, who string, several bool) string {
	switch f.What {
	case Stands:
		return fmt.Sprintf("The lowest, %s, stands %.1f %% below the highest.", who, f.Value)
	case OthersStood:
		if several {
			return "The others have not moved."
		}
		return "The other has not moved."
	case NothingNew:
		return "Nothing has moved since the baseline beyond what the gauge can tell."
	case FirstTest:
		return "Recorded as this build's baseline."
	case FirstFound:
		return "Its first test, as it was found: later ones are held against it."
	case FirstKnown:
		return "The first test that is known of this build: later ones are held against it."
	case NoBaseline:
		return "No baseline yet: it is held against the others, and what is usual."
	case Into:
		return "Recorded into this build's baseline."
	case FirstLeaks:
		return fmt.Sprintf("It is the first leak-down of %s: held against what is usual.", who)
	case FirstPulls:
		return fmt.Sprintf("%s %s read for the first time: held against the others.", who, is(several))
	case NotCranked:
		return fmt.Sprintf("Compression of %s was not read.", who)
	case NotLeaked:
		return fmt.Sprintf("%s %s not leaked down.", who, was(several))
	case NotListened:
		return fmt.Sprintf("Nobody listened where the air of %s goes.", who)
	}
	return ""
}

func is(several bool) string {
	if several {
		return "are"
	}
	return "is"
}

func was(several bool) string {
	if several {
		return "were"
	}
	return "was"
}

func percentWords(v float64) string { return fmt.Sprintf("%g %%", v) }

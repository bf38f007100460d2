package judge

import (
	"fmt"
	"math"

	"braxel/internal/core/say"
)

// words writes a fact, of a cylinder as it stands after the cylinder's name: "is down 9 %".
func words(on *subject, f Fact) string {
	switch f.What {
	case Down:
		switch f.Against {
		case Baseline:
			return say.Text("judge.is-down", "value", f.Value)
		case Others:
			return say.Text("judge.stands-below-the-others", "value", f.Value)
		}
		return say.Text("judge.reads-less-than-such-an", "value", f.Value)
	case LeakUp:
		if f.Against == Baseline {
			return say.Text("judge.leaks-points-more", "value", f.Value, "at", f.At)
		}
		return say.Text("judge.leaks-points-more-than-is", "value", f.Value, "at", f.At)
	case AirHeard:
		return say.Text("judge.lets-air-out", "at", f.At)
	case FoundBefore:
		return say.Text("judge.was-found-changed-at-an")
	case MayBe:
		return say.Text("judge.is-likelier-wrong-than-its", "value", 100*f.Value)
	case LeaksMuch:
		return say.Text("judge.leaks-which-is-much-by", "value", f.Value)
	case BelowLeast:
		return say.Text("judge.reads-below-the-least-by", "by", f.By, "figure", f.Figure)
	case ApartTooFar:
		return say.Text("judge.stands-below-the-highest-where", "reads", f.Reads, "by", f.By, "figure", f.Figure)
	case LeaksTooMuch:
		return say.Text("judge.leaks-where-allows", "value", f.Value, "by", f.By, "figure", f.Figure)
	case HardlyFires:
		return say.Text("judge.reads-less-than-the-90")
	case FaceLow:
		return say.Text("judge.has-one-face-below-the", "value", f.Value)
	case LeakDoubted:
		return say.Text("judge.leaks-points-more-by-one-2", "value", f.Value)
	case LeakOnce:
		return say.Text("judge.leaks-points-more-by-one-3", "value", f.Value)
	case PullOnce:
		return say.Text("judge.reads-low-by-one-reading", "value", f.Value)
	case PullDoubted:
		if f.Value <= 0 {
			return say.Text("judge.has-pulls-that-do-not")
		}
		return say.Text("judge.reads-low-which-is-likelier", "value", f.Value)
	case ColdUneven:
		return say.Text("judge.cannot-be-told-cold")
	case FellWithAll:
		return say.Text("judge.fell-with-all-the-others", "value", f.Value)
	}
	return wordsOfVisit(on, f)
}

// wordsOfVisit writes a fact of the whole visit, a sentence.
func wordsOfVisit(on *subject, f Fact) string {
	who, several := on.names(f.Cylinders), len(f.Cylinders) > 1
	switch f.What {
	case AllMoved:
		if f.Value > 0 {
			return say.Text("judge.all-read-higher-together", "value", f.Value)
		}
		return say.Text("judge.all-moved-together-down-no", "value", -f.Value)
	case AllAsTested:
		return say.Text("judge.all-read-lower-together-as", "value", -f.Value)
	case AllLow:
		return say.Text("judge.all-stand-below-the-usual", "value", f.Value, "figure", f.Figure, "by", f.By)
	case Sank:
		return say.Text("judge.readings-sank-by-from-the", "value", f.Value)
	case Stepped:
		more := "less"
		if f.Value > 0 {
			more = "more"
		}
		return say.Text("judge.from-on-all-read-throttle", "who", who, "value", math.Abs(f.Value), "more", more)
	case BankApart:
		return say.Text("judge.the-banks-stand-apart-cam", "value", math.Abs(f.Value))
	case PullLeftOut:
		return say.Text("judge.a-pull-of-fits-nothing", "who", who)
	}
	return wordsOfRest(f, who, several)
}

// wordsOfRest writes what stood, what is new, and what was not compared.
func wordsOfRest(f Fact, who string, several bool) string {
	switch f.What {
	case Stands:
		return say.Text("judge.the-lowest-stands-below-the", "who", who, "value", f.Value)
	case OthersStood:
		if several {
			return say.Text("judge.the-others-have-not-moved")
		}
		return say.Text("judge.the-other-has-not-moved")
	case NothingNew:
		return say.Text("judge.nothing-has-moved-since-the")
	case FirstTest:
		return say.Text("judge.recorded-as-this-builds-baseline")
	case FirstFound:
		return say.Text("judge.its-first-test-as-it")
	case FirstKnown:
		return say.Text("judge.the-first-test-that-is")
	case NoBaseline:
		return say.Text("judge.no-baseline-yet-it-is")
	case Into:
		return say.Text("judge.recorded-into-this-builds-baseline")
	case FirstLeaks:
		return say.Text("judge.it-is-the-first-leak", "who", who)
	case FirstPulls:
		return say.Text("judge.read-for-the-first-time", "who", who, "several", is(several))
	case NotCranked:
		return say.Text("judge.compression-of-was-not-read", "who", who)
	case NotLeaked:
		return say.Text("judge.not-leaked-down", "who", who, "several", was(several))
	case NotListened:
		return say.Text("judge.nobody-listened-where-the-air", "who", who)
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

package season_test

import (
	"math/rand/v2"
	"testing"
)

// BenchmarkLargeSeason lays out and searches a season of 100 engines, 30 cars and 200 events.
func BenchmarkLargeSeason(b *testing.B) {
	s := shopOf(rand.New(rand.NewPCG(1, 3)), 100, 30, 200)
	b.Run("search", func(b *testing.B) {
		for b.Loop() {
			p, searched := s.Search(nil)
			price := s.Price(p)
			b.ReportMetric(float64(searched.Kept), "kept")
			b.ReportMetric(float64(price.Unmet), "unmet")
			b.ReportMetric(float64(price.Freshen), "freshens")
		}
	})
	p, _ := s.Search(func(float64) bool { return false })
	s.Season.Starts, s.Season.Jobs = p.Starts, p.Jobs
	b.Run("board", func(b *testing.B) {
		for b.Loop() {
			s.Board()
		}
	})
}

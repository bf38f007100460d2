package judge_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// filmedAs has every figure of a test read by a camera, with a doubt in psi.
func filmedAs(sd float64) func(*log.Session) {
	return func(s *log.Session) {
		for i := range s.Compression {
			for k := range s.Compression[i].Pulls {
				s.Compression[i].Pulls[k].CameraSD = sd
			}
		}
		for i := range s.Leakdown {
			s.Leakdown[i].CameraSD = sd
		}
	}
}

// What a camera doubts is doubted by the judge, too: a change that a sharp film shows is not one that a poor film shows as surely. And no
// doubt, however large somebody says that it is, leaves a cylinder at ease that has lost a third of its compression, or
// makes anything milder of a leak of 60 %.
func TestTheCamerasDoubtIsTheJudges(t *testing.T) {
	verdict := func(psi, leak, sd float64) judge.Cylinder {
		bad := test{psi: []float64{180, 182, psi, 180}, leak: []float64{3, 4, leak, 4}, with: filmedAs(sd)}
		v := judge.Log(situation{engine: inline(4), tests: []test{right, bad}}.log(), rules.Shop{})
		return v.Sessions[1].Of(3)
	}
	sharp, poor := verdict(166, 6, 0.2), verdict(166, 6, 5)
	assert.NotEqual(t, sharp, poor, "a doubt of 5 psi changes what is believed of 12 psi")
	for _, sd := range []float64{0, 0.3, 3, 30, 1000} {
		assert.GreaterOrEqual(t, verdict(120, 4, sd).State.Severity(), judge.Watch.Severity(), "120 psi, doubt %v", sd)
		assert.Equal(t, verdict(178, 60, 0).State, verdict(178, 60, sd).State, "60 %% leak, doubt %v", sd)
	}
}

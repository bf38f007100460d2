package server

import (
	"github.com/danielgtaylor/huma/v2/validation"

	"braxel/internal/core/say"
)

// What the checker of requests says of a field is read by people, as in the sums: it is put as the rest is. It keeps its words in variables
// of its package, which are set before any request is there.
func init() {
	for words, id := range map[*string]string{
		&validation.MsgUnexpectedProperty:             "server.nothing-like-this-is-asked",
		&validation.MsgExpectedRequiredProperty:       "server.is-missing",
		&validation.MsgExpectedNumber:                 "server.must-be-number",
		&validation.MsgExpectedInteger:                "server.must-be-whole-number",
		&validation.MsgExpectedString:                 "server.must-be-words",
		&validation.MsgExpectedBoolean:                "server.must-be-yes-or-no",
		&validation.MsgExpectedArray:                  "server.must-be-list",
		&validation.MsgExpectedObject:                 "server.must-be-group",
		&validation.MsgExpectedOneOf:                  "server.must-be-one-of",
		&validation.MsgExpectedMinimumNumber:          "server.must-be-at-least",
		&validation.MsgExpectedExclusiveMinimumNumber: "server.must-be-above",
		&validation.MsgExpectedMaximumNumber:          "server.must-be-at-most",
		&validation.MsgExpectedExclusiveMaximumNumber: "server.must-be-below",
		&validation.MsgExpectedMinLength:              "server.must-have-letters",
		&validation.MsgExpectedMaxLength:              "server.must-not-have-more-letters",
		&validation.MsgExpectedMinItems:               "server.must-have-entries",
		&validation.MsgExpectedMaxItems:               "server.must-not-have-more-entries",
		&validation.MsgExpectedRFC3339Date:            "server.must-be-day",
	} {
		*words = say.Text(id)
	}
}

package logfile

import (
	"braxel/internal/core/say"
	"braxel/internal/core/trace"
)

// MostTrace is the largest recording in bytes that is read: minutes of cranking at any rate that serves.
const MostTrace = 48 << 20

// ReadTrace reads a recorder's file, however it was saved. An error is a *trace.Refused or says that it is no text.
func ReadTrace(text []byte, known trace.Known) (trace.Recording, error) {
	if len(text) > MostTrace {
		return trace.Recording{}, say.Error("logfile.file-larger-than-mb-cut", "most", MostTrace>>20)
	}
	plain, _, err := decode(text)
	if err != nil {
		return trace.Recording{}, err
	}
	return trace.Parse(string(plain), known)
}

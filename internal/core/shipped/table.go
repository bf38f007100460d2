// Package shipped reads the tables that the program ships with.
package shipped

import "encoding/json"

// Table reads a table, gives it its words where it takes them from the catalogue, and checks it. One that is wrong is the program's own fault: it panics.
func Table[T interface{ Check() error }](text []byte) T {
	var t T
	if err := json.Unmarshal(text, &t); err != nil {
		panic(err)
	}
	if t, ok := any(&t).(interface{ Word() }); ok {
		t.Word()
	}
	if err := t.Check(); err != nil {
		panic(err)
	}
	return t
}

package store

import (
	"fmt"
	"os"

	"braxel/internal/core/say"
)

// ErrGone is why nothing can be kept when the data file is no longer where it was: its disk was unplugged, or somebody moved or
// replaced it.
var ErrGone = say.Error("store.data-file-isnt-where-was")

// present reports ErrGone where the file that this store has open isn't the one that its name leads to. What SQLite would write then
// goes to a file that nobody finds again.
func (s *Store) present() error {
	now, err := os.Stat(s.file)
	if err == nil && os.SameFile(s.is, now) {
		return nil
	}
	s.gone.Store(true)
	return fmt.Errorf("%w (%s)", ErrGone, s.file)
}

// Gone says why nothing can be kept any more, or "". Once gone, it stays so: what came between is in no file that anybody has.
func (s *Store) Gone() string {
	if s.gone.Load() {
		return fmt.Sprintf("%v (%s)", ErrGone, s.file)
	}
	if err := s.present(); err != nil {
		return err.Error()
	}
	return ""
}

// leadsNowhere refuses a name that is a link to what isn't there: a new file in its place would hide the one on the absent disk.
func leadsNowhere(name string) error {
	info, err := os.Lstat(name)
	if err != nil || info.Mode()&os.ModeSymlink == 0 {
		return nil
	}
	if _, err := os.Stat(name); err == nil {
		return nil
	}
	to, _ := os.Readlink(name)
	return say.Error("store.link-which-isnt-there-plug", "name", name, "to", to)
}

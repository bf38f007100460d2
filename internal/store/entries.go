package store

import (
	"context"
	"database/sql"
	"errors"
	"log/slog"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"braxel/internal/core/ahead"
	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// booksKept is how many engines' books are kept in memory: the ones under test, not the whole rack.
const booksKept = 48

// shelved is a book in memory, and the log as it was told last.
type shelved struct {
	book     *book.Book
	log      log.Log
	revision int // of the engine, as the log was told
	shop     int // of the workshop
}

// eachEngine gives every engine once: by the index, without a walk over all entries.
const eachEngine = `WITH RECURSIVE one(engine) AS (
	SELECT min(engine) FROM entry
	UNION ALL SELECT (SELECT min(engine) FROM entry WHERE entry.engine > one.engine) FROM one WHERE engine IS NOT NULL)
	SELECT engine FROM one WHERE engine IS NOT NULL`

// begin reads the workshop's book and where each engine's stands.
func (s *Store) begin(ctx context.Context) error {
	s.revisions = map[string]int{}
	type at struct {
		engine string
		n      int
	}
	all, err := collect(func(r *sql.Rows) (one at, err error) { return one, r.Scan(&one.engine, &one.n) })(s.read.QueryContext(ctx,
		"SELECT engine, (SELECT max(n) FROM entry WHERE entry.engine = each.engine) FROM ("+eachEngine+") each"))
	if err != nil {
		return say.Error("store.cant-read", "problem", ErrDamaged, "err", err)
	}
	for _, one := range all {
		s.revisions[one.engine] = one.n
	}
	if s.ruled, err = s.lastRuled(ctx); err != nil {
		return say.Error("store.cant-read", "problem", ErrDamaged, "err", err)
	}
	s.names = s.lastNames(ctx)
	// What of the workshop's own book cannot be read is left out, and check names it: the engines can be used.
	entries, err := s.entriesOf(ctx, "")
	if err != nil {
		slog.Error(say.Text("store.not-all-shops-own-history"), "error", err)
	}
	s.shop = book.Replay("", entries)
	s.latest = max(s.latest, s.shop.Latest())
	return nil
}

// lastRuled returns the number of the last entry of the workshop that bears on how engines are judged: what a season has ahead doesn't.
func (s *Store) lastRuled(ctx context.Context) (n int, err error) {
	kinds := make([]any, len(book.AheadKinds))
	for i, k := range book.AheadKinds {
		kinds[i] = k
	}
	marks := strings.TrimSuffix(strings.Repeat("?,", len(kinds)), ",")
	err = s.read.QueryRowContext(ctx, "SELECT coalesce(max(n), 0) FROM entry WHERE engine = '' AND kind NOT IN ("+marks+")", kinds...).Scan(&n)
	return n, err
}

// Latest returns the time of the latest entry of what has been told so far: whoever was told, types after it.
func (s *Store) Latest() string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.latest
}

// lastNames returns the engines' names as they were entered last, of those that can be read.
func (s *Store) lastNames(ctx context.Context) map[string]string {
	type named struct{ engine, name string }
	all, err := collect(func(r *sql.Rows) (n named, err error) { return n, r.Scan(&n.engine, &n.name) })(s.read.QueryContext(ctx,
		`SELECT engine, CASE WHEN json_valid(body) THEN coalesce(body ->> 'name', '') ELSE '' END
			FROM entry WHERE kind = 'engine' ORDER BY at, id`))
	if err != nil {
		slog.Error(say.Text("store.not-every-engines-name-can"), "error", err)
	}
	names := make(map[string]string, len(all))
	for _, n := range all {
		if n.name != "" {
			names[n.engine] = n.name
		}
	}
	return names
}

// entriesOf reads an engine's entries, "" for the workshop's.
func (s *Store) entriesOf(ctx context.Context, engine string) ([]book.Entry, error) {
	return collect(scanEntry)(s.read.QueryContext(ctx, "SELECT "+columns+" FROM entry WHERE engine = ? ORDER BY n", engine))
}

const columns = "id, at, coalesce(clock, ''), coalesce(by, ''), engine, kind, body, was, sure, coalesce(doubt, '')"

func scanEntry(r *sql.Rows) (e book.Entry, err error) {
	var body, was []byte
	err = r.Scan(&e.ID, &e.At, &e.Clock, &e.By, &e.Engine, &e.Kind, &body, &was, &e.Sure, &e.Doubt)
	e.Body, e.Was = body, was
	return e, err
}

// Append hands entries in, in order, at that time. Those that book.Admit lets in are on disk, together, when it returns; one
// that is refused harms no other. An error means that none was kept.
func (s *Store) Append(ctx context.Context, entries []book.Entry, now time.Time) (answers []book.Answer, err error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	w, end, err := s.begun(ctx, now, true)
	if err != nil {
		return nil, err
	}
	defer func() {
		if err = end(err); err != nil {
			answers = nil
		}
	}()
	for _, e := range entries {
		answer, err := s.one(ctx, w, e)
		if err != nil {
			return nil, err
		}
		answers = append(answers, answer)
	}
	return answers, nil
}

// begun begins to write. End commits what was written, or takes it back where there was an error; it returns why nothing was kept. The
// lock is held.
func (s *Store) begun(ctx context.Context, now time.Time, asks bool) (w *writing, end func(error) error, err error) {
	w, err = s.writing(ctx, now, asks)
	if err != nil {
		return nil, nil, err
	}
	return w, func(why error) error {
		committed := false
		defer func() { _ = w.tx.Rollback() }()
		switch {
		case why != nil:
		case len(w.last) == 0:
			return nil
		default:
			why = w.tx.Commit()
			committed = why == nil
		}
		if why == nil {
			why = s.present() // it may have gone while it was written
		}
		if why != nil { // whatever ended it: what the books in memory have taken in is not on disk
			_ = w.tx.Rollback()
			return errors.Join(why, s.forget(w.last))
		}
		if committed {
			s.kept(w)
		}
		return nil
	}, nil
}

// writing begins a transaction with the statements that entries need.
func (s *Store) writing(ctx context.Context, now time.Time, asks bool) (*writing, error) {
	if err := s.present(); err != nil {
		return nil, err
	}
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return nil, err
	}
	return &writing{tx: tx, find: tx.StmtContext(ctx, s.find), add: tx.StmtContext(ctx, s.add), now: now, asks: asks, last: map[string]int{}}, nil
}

// kept takes note of what has been committed.
func (s *Store) kept(w *writing) {
	if err := s.mark(w.n, w.id); err != nil {
		slog.Error(say.Text("store.tally-was-not-saved"), "error", err)
	}
	for engine, n := range w.last {
		s.revisions[engine] = n
	}
	if w.ruled > 0 {
		s.ruled = w.ruled
		for _, one := range s.shelf.Values() {
			one.book.ShopChanged()
		}
	}
}

// writing is a transaction under way, and the last entry that it has written for each engine.
type writing struct {
	tx    *sql.Tx
	find  *sql.Stmt
	add   *sql.Stmt
	now   time.Time
	asks  bool // somebody is there to be asked
	last  map[string]int
	n     int // the last entry written, and its id
	id    string
	ruled int // the last one of the workshop that bears on how engines are judged
}

func (s *Store) one(ctx context.Context, w *writing, e book.Entry) (book.Answer, error) {
	if faults := book.CheckEnvelope(e); len(faults) > 0 {
		return book.Refuse(e.ID, faults), nil
	}
	var elsewhere string
	err := w.find.QueryRowContext(ctx, e.ID).Scan(&elsewhere)
	switch {
	case err == nil && elsewhere != e.Engine:
		return book.Refuse(e.ID, log.Faults{log.At("/id", "store.another-entry-has-id-so")}), nil
	case err != nil && !errors.Is(err, sql.ErrNoRows):
		return book.Answer{}, err
	}
	b, err := s.bookOf(ctx, e.Engine)
	if err != nil {
		return book.Answer{}, err
	}
	e = b.Arrived(e, w.now)
	answer := book.Admit(b, s.shop, e)
	if answer.Result != book.IsKept {
		return answer, nil
	}
	if w.asks && !e.Sure {
		if asked := b.Questions(e, book.Around{Shop: s.shop, Now: w.now, Named: s.named(e.Engine)}); len(asked) > 0 {
			return book.Ask(e.ID, asked), nil
		}
	}
	e.Doubt = answer.Doubt
	n, err := insertBy(ctx, w.add, e, w.now)
	if err != nil {
		return book.Answer{}, err
	}
	w.last[e.Engine], w.n, w.id = n, n, e.ID
	if e.Engine == "" && !b.OfSeason(e) {
		w.ruled = n
	}
	b.AddAdmitted(e)
	s.latest = max(s.latest, e.At)
	if e.Kind == book.Engine {
		s.names[e.Engine] = b.Name()
	}
	return answer, nil
}

// named returns what tells whether an engine other than that has a name. The lock is held.
func (s *Store) named(engine string) func(string) bool {
	return func(name string) bool {
		for id, have := range s.names {
			if id != engine && book.SameName(have, name) {
				return true
			}
		}
		return false
	}
}

// nextNumber is the number of the next entry: above all that are there, and above the floor, which is the highest number that there
// was before an older copy was put back. So of two copies the one with the higher number was written later, whatever its clock said.
const nextNumber = "SELECT 1 + max(coalesce((SELECT max(n) FROM entry), 0), (SELECT user_version FROM pragma_user_version))"

const (
	findEntry = "SELECT engine FROM entry WHERE id = ?"
	addEntry  = `INSERT INTO entry (n, id, at, clock, by, engine, kind, body, was, sure, doubt, arrived)
		VALUES ((` + nextNumber + `), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`
)

// prepare readies the statements by which entries are written.
func (s *Store) prepare(ctx context.Context) (err error) {
	if s.find, err = s.write.PrepareContext(ctx, findEntry); err == nil {
		s.add, err = s.write.PrepareContext(ctx, addEntry)
	}
	return err
}

func insert(ctx context.Context, tx *sql.Tx, e book.Entry, now time.Time) (int, error) {
	add, err := tx.PrepareContext(ctx, addEntry)
	if err != nil {
		return 0, err
	}
	defer func() { _ = add.Close() }()
	return insertBy(ctx, add, e, now)
}

func insertBy(ctx context.Context, add *sql.Stmt, e book.Entry, now time.Time) (int, error) {
	text := func(s string) any {
		if s == "" {
			return nil
		}
		return s
	}
	done, err := add.ExecContext(ctx, e.ID, e.At, text(e.Clock), text(e.By), e.Engine, e.Kind, string(e.Body), text(string(e.Was)), e.Sure,
		text(e.Doubt), now.UnixMilli())
	if err != nil {
		return 0, err
	}
	n, err := done.LastInsertId()
	return int(n), err
}

// forget drops the books that a failed transaction has written in, to be read from disk again.
func (s *Store) forget(touched map[string]int) error {
	for engine := range touched {
		s.shelf.Remove(engine)
	}
	if _, shops := touched[""]; shops {
		entries, err := s.entriesOf(context.Background(), "")
		s.shop = book.Replay("", entries)
		return err
	}
	return nil
}

// bookOf returns the book of an engine, from memory or from disk. The lock is held.
func (s *Store) bookOf(ctx context.Context, engine string) (*book.Book, error) {
	if engine == "" {
		return s.shop, nil
	}
	if have, ok := s.shelf.Get(engine); ok {
		s.latest = max(s.latest, have.book.Latest())
		return have.book, nil
	}
	entries, err := s.entriesOf(ctx, engine)
	if err != nil {
		return nil, err
	}
	one := &shelved{book: book.Replay(engine, entries), revision: -1}
	s.shelf.Add(engine, one)
	return one.book, nil
}

// View is an engine as its book tells it, at a revision that rises with every change to it or to the workshop.
type View struct {
	Log      log.Log // with what was struck, marked; others read it too, it is not to be changed
	Revision int
	Shop     int
	Clashes  map[string][]book.Clash
	Unplaced []book.Unplaced
	Struck   string            // why the engine as a whole was struck
	Behind   map[string]string // the entries behind its builds, events and notes
}

// Log returns an engine and its whole history.
func (s *Store) Log(ctx context.Context, engine string) (log.Log, int, error) {
	l, revision, _, err := s.told(ctx, engine, nil)
	return l, revision, err
}

// View returns an engine with what its book says beside its log.
func (s *Store) View(ctx context.Context, engine string) (View, error) {
	var v View
	l, revision, shop, err := s.told(ctx, engine, func(b *book.Book) {
		v.Clashes, v.Unplaced, v.Struck, v.Behind = b.Clashes(), b.Unplaced(), b.StruckEngine(), b.Behind()
	})
	v.Log, v.Revision, v.Shop = l, revision, shop
	return v, err
}

// told returns the log of an engine as it stands, and lets also look at the book. A book that is not in memory is read
// without holding up those who write.
func (s *Store) told(ctx context.Context, engine string, also func(*book.Book)) (log.Log, int, int, error) {
	for {
		s.mu.Lock()
		revision, known := s.revisions[engine]
		if !known || engine == "" {
			s.mu.Unlock()
			return log.Log{}, 0, 0, say.Error("store.engine", "engine", engine, "problem", ErrUnknown)
		}
		if have, ok := s.shelf.Get(engine); ok {
			shop := s.ruled
			if have.revision != revision || have.shop != shop {
				have.log, have.revision, have.shop = have.book.Log(s.shop), revision, shop
			}
			l := have.log
			s.latest = max(s.latest, have.book.Latest())
			if also != nil {
				also(have.book)
			}
			s.mu.Unlock()
			return l, max(revision, shop), shop, nil
		}
		s.mu.Unlock()
		entries, err := s.entriesOf(ctx, engine)
		if err != nil {
			return log.Log{}, 0, 0, err
		}
		one := &shelved{book: book.Replay(engine, entries), revision: -1}
		s.mu.Lock()
		if s.revisions[engine] == revision {
			s.shelf.Add(engine, one)
		}
		s.mu.Unlock()
	}
}

// Forget drops the books in memory; they are read from disk when they are asked for.
func (s *Store) Forget() { s.shelf.Purge() }

// Record returns all entries of an engine, or of the workshop, in the order of their time.
func (s *Store) Record(ctx context.Context, engine string) ([]book.Entry, error) {
	s.mu.Lock()
	_, known := s.revisions[engine]
	s.mu.Unlock()
	if !known && engine != "" {
		return nil, say.Error("store.engine", "engine", engine, "problem", ErrUnknown)
	}
	entries, err := s.entriesOf(ctx, engine)
	if err != nil {
		return nil, err
	}
	return book.Merge(entries, nil), nil
}

// Testers returns the shop's gauges and leak-down kits.
func (s *Store) Testers() []log.Tester {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.shop.Testers()
}

// Rules returns what the workshop has of its own in the place of the built-in rules.
func (s *Store) Rules() rules.Shop {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.shop.Rules()
}

// Sheets returns what was corrected in spreadsheets before.
func (s *Store) Sheets() []rules.SheetColumns {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.shop.Sheets()
}

// Season returns what the workshop has ahead of it, and a number that changes whenever something of the workshop does.
func (s *Store) Season() (ahead.Season, int) {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.shop.Season(), s.revisions[""]
}

// Has reports whether there is an engine of that id.
func (s *Store) Has(engine string) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	_, known := s.revisions[engine]
	return known && engine != ""
}

// Engines returns the ids of all engines.
func (s *Store) Engines() []string {
	s.mu.Lock()
	defer s.mu.Unlock()
	ids := make([]string, 0, len(s.revisions))
	for id := range s.revisions {
		if id != "" {
			ids = append(ids, id)
		}
	}
	slices.Sort(ids)
	return ids
}

// Merge takes in every entry of another data file that this one lacks. Entries of one id that say different things are both
// kept, the other file's under an id of its own.
func (s *Store) Merge(ctx context.Context, file string) (added int, err error) {
	if err := recognise(ctx, file); err != nil {
		return 0, err
	}
	db, err := sql.Open("sqlite", uri(file)+"?_pragma=query_only(1)")
	if err != nil {
		return 0, err
	}
	defer func() { _ = db.Close() }()
	theirs, err := collect(scanEntry)(db.QueryContext(ctx, "SELECT "+columns+" FROM entry ORDER BY n"))
	if err != nil {
		return 0, say.Error("store.from-older-braxel-open-with", "file", file, "err", err)
	}
	added, _, refused, err := s.Union(ctx, theirs)
	if len(refused) > 0 {
		err = errors.Join(err, say.Error("store.entries-not-valid-were-left", "n", len(refused), "refused", refused[0]))
	}
	return added, errors.Join(err, bringPhotos(photosBeside(file), filepath.Join(s.Dir, "photos")))
}

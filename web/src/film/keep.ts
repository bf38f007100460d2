import type { Schemas } from '@/api/client'
import type { Work } from '@/composables/useSheet'
import { noteOf } from '@/sheet/traces'
import { sayer } from '@/words/say'
import texts from '@/words/en/film.json'

const says = sayer(texts)

/** What a reading says of the film that it was read from; nothing where its figure was corrected by hand. */
export const filmedNote = (sd: number, unit: string) => (sd ? says('filmed-note', { sd, unit }) : undefined)

/** Keeps the curve and the picture of a film with the test. */
export async function keepFilm(
  work: Work,
  place: { cylinder?: number; rotor?: number },
  note: string | undefined,
  found?: Schemas['FilmFound'],
  picture?: Blob,
) {
  if (found?.trace) await work.enterAll('look', [noteOf(found.trace, place)])
  if (picture) await work.enter('photo', { ...place, note }, picture)
}

// @vitest-environment jsdom
import { describe, expect, it, vi } from 'vitest'

const notes: number[] = []
const spoken: string[] = []
class Audio {
  state = 'running'
  currentTime = 0
  destination = {}
  createOscillator() {
    const note = {
      frequency: { value: 0 },
      connect: (to: unknown) => to,
      start: () => notes.push(note.frequency.value),
      stop: () => undefined,
    }
    return note
  }
  createGain() {
    const gain = { setValueAtTime: () => undefined, exponentialRampToValueAtTime: () => undefined }
    return { gain, connect: (to: unknown) => to }
  }
}
class Utterance {
  lang = ''
  constructor(readonly text: string) {}
}
vi.stubGlobal('AudioContext', Audio)
vi.stubGlobal('SpeechSynthesisUtterance', Utterance)
vi.stubGlobal('speechSynthesis', { cancel: () => undefined, speak: (u: Utterance) => spoken.push(u.text) })
const { say, sound, useSound } = await import('./useSound')

describe('sound', () => {
  it('is off until it is wanted', () => {
    sound('kept')
    say('next: 3')
    expect([notes, spoken]).toEqual([[], []])
  })
  it('once wanted rises for kept, and tells it from "look here"', () => {
    useSound().toggle()
    notes.length = 0
    sound('kept')
    const kept = [...notes]
    expect(kept[1]).toBeGreaterThan(kept[0]!)
    notes.length = 0
    sound('look')
    expect(notes).not.toEqual(kept)
    say('next: 3')
    expect(spoken).toEqual(['next: 3'])
  })
  it('is off again at the same key', () => {
    useSound().toggle()
    notes.length = 0
    sound('end')
    expect(notes).toEqual([])
  })
})

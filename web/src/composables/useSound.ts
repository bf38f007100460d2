import { useLocalStorage } from '@vueuse/core'

/** Tones, and the browser's own voice: off until wanted, on this device. */
const on = useLocalStorage('braxel.sound', false)

/** Each tone as its notes, in hertz and seconds: rising for kept, low and twice for "look here". */
const tones = {
  kept: [
    [660, 0.07],
    [990, 0.12],
  ],
  look: [
    [300, 0.16],
    [0, 0.06],
    [300, 0.22],
  ],
  start: [[520, 0.18]],
  second: [[880, 0.05]],
  end: [[1320, 0.5]],
} as const
export type Tone = keyof typeof tones

let audio: AudioContext | undefined

/** Sounds a tone, if sound is on. A browser that was not touched yet keeps still. */
export function sound(tone: Tone) {
  if (!on.value || typeof AudioContext === 'undefined') return
  audio ??= new AudioContext()
  if (audio.state === 'suspended') void audio.resume()
  let at = audio.currentTime
  for (const [hertz, seconds] of tones[tone]) {
    if (hertz > 0) {
      const note = audio.createOscillator()
      const loud = audio.createGain()
      note.frequency.value = hertz
      loud.gain.setValueAtTime(0.3, at)
      loud.gain.exponentialRampToValueAtTime(0.001, at + seconds)
      note.connect(loud).connect(audio.destination)
      note.start(at)
      note.stop(at + seconds)
    }
    at += seconds
  }
}

/** Says words aloud, if sound is on and the browser has a voice; what it was saying gives way. */
export function say(words: string) {
  if (!on.value || !words || typeof speechSynthesis === 'undefined') return
  speechSynthesis.cancel()
  const spoken = new SpeechSynthesisUtterance(words)
  spoken.lang = 'en'
  speechSynthesis.speak(spoken)
}

export function useSound() {
  function toggle() {
    on.value = !on.value
    if (on.value) sound('kept')
    else if (typeof speechSynthesis !== 'undefined') speechSynthesis.cancel()
  }
  return { on, toggle }
}

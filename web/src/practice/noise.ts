/** Air and water, made in the browser: a hiss through a hole sounds higher than one through a port, and bubbles are bubbles. */
const pitch: Record<string, number> = {
  crankcase: 900,
  intake: 2600,
  exhaust: 1500,
  neighbour: 3400,
  plug_hole: 4200,
}
let audio: AudioContext | undefined

/** Sounds what is heard at a place, for a second and a half. Nothing sounds like nothing. */
export function hear(where: string, level: number) {
  if (level === 0 || typeof AudioContext === 'undefined') return
  audio ??= new AudioContext()
  void audio.resume()
  if (where === 'coolant') bubbles(audio, level)
  else hiss(audio, pitch[where] ?? 2000, level)
}

const lasts = 1.5
const loudness = [0, 0.04, 0.12, 0.35]

function hiss(at: AudioContext, hertz: number, level: number) {
  const noise = at.createBufferSource()
  noise.buffer = at.createBuffer(1, at.sampleRate * lasts, at.sampleRate)
  const samples = noise.buffer.getChannelData(0)
  for (let i = 0; i < samples.length; i++) samples[i] = 2 * Math.random() - 1
  const filter = at.createBiquadFilter()
  filter.type = 'bandpass'
  filter.frequency.value = hertz
  filter.Q.value = 0.8
  noise
    .connect(filter)
    .connect(fading(at, at.currentTime, lasts, loudness[level]!))
    .connect(at.destination)
  noise.start()
}

function bubbles(at: AudioContext, level: number) {
  const many = [0, 3, 8, 20][level]!
  for (let i = 0; i < many; i++) {
    const begins = at.currentTime + Math.random() * lasts
    const note = at.createOscillator()
    note.frequency.setValueAtTime(250 + 200 * Math.random(), begins)
    note.frequency.exponentialRampToValueAtTime(700 + 400 * Math.random(), begins + 0.07)
    note.connect(fading(at, begins, 0.09, loudness[level]!)).connect(at.destination)
    note.start(begins)
    note.stop(begins + 0.1)
  }
}

function fading(at: AudioContext, begins: number, seconds: number, loud: number) {
  const gain = at.createGain()
  gain.gain.setValueAtTime(loud, begins)
  gain.gain.exponentialRampToValueAtTime(0.001, begins + seconds)
  return gain
}

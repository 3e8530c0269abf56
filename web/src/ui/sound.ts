// The verdict by ear: two rising tones for good, one low for not yet, a rough one for over.
import { sound } from './preferences'

let context: AudioContext | undefined

/** Opens the loudspeaker, which takes a while, before there is something to say. */
export function wakeSound() {
  if (sound.value) context ??= new AudioContext()
}

function tone(frequency: number, start: number, length: number, shape: OscillatorType) {
  context ??= new AudioContext()
  if (context.state === 'suspended') void context.resume()
  const oscillator = context.createOscillator()
  const gain = context.createGain()
  const from = context.currentTime + start
  oscillator.type = shape
  oscillator.frequency.value = frequency
  gain.gain.setValueAtTime(0.25, from)
  gain.gain.exponentialRampToValueAtTime(0.001, from + length)
  oscillator.connect(gain).connect(context.destination)
  oscillator.start(from)
  oscillator.stop(from + length)
}

export function playVerdict(verdict: 'low' | 'good' | 'over') {
  if (!sound.value) return
  if (verdict === 'good') {
    tone(660, 0, 0.14, 'sine')
    tone(990, 0.13, 0.22, 'sine')
  } else if (verdict === 'low') {
    tone(330, 0, 0.25, 'triangle')
  } else {
    tone(180, 0, 0.35, 'sawtooth')
    tone(170, 0.4, 0.45, 'sawtooth')
  }
}

/** A soft sound, where somebody has touched the page: two low tones that fade. */

export function softSound() {
  if (!navigator.userActivation?.hasBeenActive || !('AudioContext' in window)) return
  const audio = new AudioContext()
  const level = audio.createGain()
  level.connect(audio.destination)
  const now = audio.currentTime
  level.gain.setValueAtTime(0.0001, now)
  level.gain.exponentialRampToValueAtTime(0.08, now + 0.05)
  level.gain.exponentialRampToValueAtTime(0.0001, now + 0.9)
  for (const [at, hertz] of [
    [0, 392],
    [0.28, 523],
  ] as const) {
    const tone = audio.createOscillator()
    tone.frequency.value = hertz
    tone.connect(level)
    tone.start(now + at)
    tone.stop(now + 0.95)
  }
  setTimeout(() => void audio.close(), 1_500)
}

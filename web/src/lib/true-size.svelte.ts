/** How many dots of this screen make a millimetre, once somebody has laid a bank card on it. */

const KEPT = 'dots-per-mm'
const GUESS = 96 / 25.4
const EYE_MM = 0.15 // what an eye over the glass can tell: our own judgement

class TrueSize {
  perMm = $state(Number(localStorage.getItem(KEPT)) || GUESS)
  known = $state(localStorage.getItem(KEPT) !== null)

  set(perMm: number) {
    this.perMm = perMm
    this.known = true
    localStorage.setItem(KEPT, String(perMm))
  }

  /** What a ring laid on the screen can be read to: a dot, and the eye. */
  get accuracy(): string {
    const mm = Math.hypot(1 / this.perMm, EYE_MM) + (this.known ? 0 : 1)
    return `To about ${mm.toFixed(1)} mm of diameter, ${(mm / 0.8128).toFixed(1)} US sizes.`
  }
}

export const trueSize = new TrueSize()

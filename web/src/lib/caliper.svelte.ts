/** The caliper's zero, asked for once a session, and the field that a reading goes to. */

const KEPT = 'caliper-zero'

class Caliper {
  zero = $state(sessionStorage.getItem(KEPT) ?? '')
  panel = $state(false)
  target: HTMLInputElement | null = null

  constructor() {
    document.addEventListener('focusin', (event) => {
      const field = event.target
      if (field instanceof HTMLInputElement && field.dataset.measure) this.target = field
    })
  }

  get asked(): boolean {
    return this.zero !== ''
  }

  keepZero(text: string) {
    this.zero = text.trim() || '0'
    sessionStorage.setItem(KEPT, this.zero)
  }

  /** Type a reading and Enter into the field last used for measures, as a caliper on a wire does. */
  send(reading: string): boolean {
    const field = this.target?.isConnected
      ? this.target
      : document.querySelector<HTMLInputElement>('input[data-measure]')
    if (!field) return false
    field.focus()
    field.value = reading
    field.dispatchEvent(new Event('input', { bubbles: true }))
    field.dispatchEvent(
      new KeyboardEvent('keydown', { key: 'Enter', bubbles: true, cancelable: true }),
    )
    return true
  }
}

export const caliper = new Caliper()

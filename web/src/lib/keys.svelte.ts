import { untrack } from 'svelte'

/** Keys that work outside a field. Each screen lists its own; the sheet behind `?` prints them. */

export interface Key {
  key: string
  shown: string
  says: string
  run: () => void
}

const NAMES: Record<string, string> = { ' ': 'Space', ArrowRight: '→', ArrowLeft: '←' }

class Keys {
  lists = $state.raw<Key[][]>([])
  /** Single keys can be switched off: speech input types letters into nowhere. */
  on = $state(localStorage.getItem('keys') !== 'off')
  sheet = $state(false)

  constructor() {
    window.addEventListener('keydown', (event) => this.pressed(event))
  }

  /** Add a screen's keys; the answer takes them away again. */
  add(list: Omit<Key, 'shown'>[]): () => void {
    const mine = list.map((key) => ({ ...key, shown: NAMES[key.key] ?? key.key }))
    untrack(() => (this.lists = [...this.lists, mine]))
    return () => untrack(() => (this.lists = this.lists.filter((other) => other !== mine)))
  }

  toggle() {
    this.on = !this.on
    localStorage.setItem('keys', this.on ? 'on' : 'off')
  }

  get all(): Key[] {
    return this.lists.flat()
  }

  private pressed(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    if (document.querySelector('dialog[open]')) {
      if (event.key === '?') this.sheet = false
      return // a dialog has its own keys, Escape among them
    }
    const target = event.target as HTMLElement
    if (target.closest('input, select, textarea')) {
      if (event.key === 'Escape') target.blur()
      return
    }
    if ((event.key === ' ' || event.key === 'Enter') && target.closest('a, button')) return
    if (event.key !== 'Escape' && !this.on) return
    const found = this.all.findLast((key) => key.key === event.key)
    if (found) {
      event.preventDefault()
      found.run()
    }
  }
}

export const keys = new Keys()

/** Light paper, or dim for judging the colour of heat in a dark room; metals in the tones of their families. */
import type { Schemas } from './api/client'

class Theme {
  dim = $state(localStorage.getItem('theme') === 'dim')
  #families: Schemas['FamilyChoice'][] = []

  constructor() {
    this.#apply()
  }

  toggle() {
    this.dim = !this.dim
    localStorage.setItem('theme', this.dim ? 'dim' : 'paper')
    this.#apply()
  }

  /** The families of metals as the catalogue knows them: each tone becomes a custom property of its name. */
  tones(families: Schemas['FamilyChoice'][]) {
    this.#families = families
    this.#apply()
  }

  #apply() {
    const page = document.documentElement
    page.dataset.theme = this.dim ? 'dim' : 'paper'
    for (const one of this.#families)
      page.style.setProperty(`--${one.key}`, this.dim ? one.dim_tone : one.tone)
  }
}

export const theme = new Theme()

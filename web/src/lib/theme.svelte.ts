/** Light paper, or dim for judging the colour of heat in a dark room. */

class Theme {
  dim = $state(localStorage.getItem('theme') === 'dim')

  constructor() {
    this.apply()
  }

  toggle() {
    this.dim = !this.dim
    localStorage.setItem('theme', this.dim ? 'dim' : 'paper')
    this.apply()
  }

  private apply() {
    document.documentElement.dataset.theme = this.dim ? 'dim' : 'paper'
  }
}

export const theme = new Theme()

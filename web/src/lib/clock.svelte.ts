/** The time, once a second, for countdowns; one clock for the whole page. */

class Clock {
  now = $state(new Date())

  constructor() {
    setInterval(() => (this.now = new Date()), 1000)
  }
}

export const clock = new Clock()

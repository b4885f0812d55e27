import { api, ask, whenSignedOut, type Catalogue, type Mistake, type Session } from './api/client'

/** Who is signed in, and what can be chosen. Signing out elsewhere keeps the screen as it is. */
class SessionState {
  who = $state<Session | null>(null)
  catalogue = $state<Catalogue | null>(null)
  /** True once somebody has been signed in here: the screen behind the sign-in sheet is kept. */
  wasIn = $state(false)
  away = $state<Mistake[]>([])

  constructor() {
    whenSignedOut(() => {
      if (this.who) this.who = { ...this.who, signed_in: false }
    })
  }

  async start() {
    const answer = await ask(api.GET('/api/session'))
    if (answer?.problem) this.away = answer.problem.errors
    else if (answer) await this.entered(answer.data)
  }

  async signIn(username: string, password: string): Promise<Mistake[]> {
    const answer = await ask(api.POST('/api/session', { body: { username, password } }))
    if (answer?.problem) return answer.problem.errors
    if (answer) await this.entered(answer.data)
    return []
  }

  async signOut() {
    const answer = await ask(api.DELETE('/api/session'))
    if (answer?.data) {
      this.wasIn = false
      this.who = answer.data
      sessionStorage.clear()
    }
  }

  private async entered(session: Session) {
    this.away = []
    if (session.signed_in && !this.catalogue) {
      const answer = await ask(api.GET('/api/catalogue'))
      if (answer?.data) this.catalogue = answer.data
    }
    this.who = session
    if (session.signed_in) this.wasIn = true
  }
}

export const session = new SessionState()

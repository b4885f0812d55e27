import {
  api,
  ask,
  isAway,
  kept,
  owner,
  when,
  type Catalogue,
  type Mistake,
  type Problem,
  type Schemas,
  type Session,
} from './api/client'
import { leaving } from './kept.svelte'
import { shop } from './length.svelte'
import { outbox } from './outbox.svelte'
import { pulse } from './pulse.svelte'
import { theme } from './theme.svelte'

const AGAIN_MS = 2_000
const CHANNEL = 'whose-bench'
const LEFT: Mistake[] = [
  {
    field: '',
    message: 'You are signed out on this device, and nothing of yours is shown.',
    hint: 'The workshop is told as soon as it answers; then somebody can sign in.',
  },
]

/** Who is signed in, and what can be chosen. Signing out elsewhere keeps the screen; somebody else clears it. */
class SessionState {
  who = $state<Session | null>(null)
  catalogue = $state<Catalogue | null>(null)
  /** True once somebody has been signed in here: the screen behind the sign-in sheet is kept. */
  wasIn = $state(false)
  away = $state<Mistake[]>([])
  #tabs = new BroadcastChannel(CHANNEL)
  #timer: ReturnType<typeof setTimeout> | undefined

  constructor() {
    when('signedOut', () => {
      if (this.who) this.who = { ...this.who, signed_in: false }
    })
    when('somebodyElse', () => this.clear())
    when('otherPart', () => void this.start())
    when('answered', () => void outbox.flush())
    this.#tabs.onmessage = (event: MessageEvent<{ person: number; workshop: number }>) => {
      if (!this.wasIn || !event.data.person) void this.start()
      else if (event.data.person !== owner.person || event.data.workshop !== owner.workshop)
        this.clear()
      else void this.start()
    }
  }

  /** Whether who is signed in may do that, by what the server said last. */
  may(act: Session['may'][number]): boolean {
    return this.who?.may.includes(act) ?? false
  }

  /** Ask who is signed in, until somebody answers: an empty page is never left standing. */
  async start() {
    clearTimeout(this.#timer)
    if (leaving.is && !(await this.left())) return this.retry(LEFT)
    const was = kept.from !== null
    const answer = await ask(api.GET('/api/session'))
    if (!answer) return
    if (!answer.data) return this.retry(answer.problem.errors)
    await this.entered(answer.data)
    if (kept.from !== null) this.#timer = setTimeout(() => void this.start(), AGAIN_MS)
    else if (was && answer.data.signed_in) {
      void this.choose()
      pulse.again()
    }
  }

  /** Whether the server knows that who was here has left. */
  private async left(): Promise<boolean> {
    if (this.who) this.who = { ...this.who, signed_in: false }
    let answer = await ask(api.DELETE('/api/session'))
    if (answer?.problem?.status === 403) {
      await ask(api.GET('/api/session')) // the token that this asks for comes with it
      answer = await ask(api.DELETE('/api/session'))
    }
    await kept.wipe({ left: true })
    if (!answer || (answer.problem && answer.problem.status !== 401)) return false
    leaving.end()
    return true
  }

  async signIn(username: string, password: string): Promise<Mistake[]> {
    return this.settle(await ask(api.POST('/api/session', { body: { username, password } })))
  }

  /** The code that follows a password, where there is a second factor. */
  async giveCode(code: string): Promise<Mistake[]> {
    const answer = await ask(api.POST('/api/session/code', { body: { code } }))
    if (answer?.problem?.status === 401) await this.start() // it took too long: the password comes first
    return this.settle(answer)
  }

  async welcome(link: string, password: string): Promise<Mistake[]> {
    return this.settle(await ask(api.POST('/api/session/welcome', { body: { link, password } })))
  }

  /** A workshop and its owner, by the link of the installation. */
  async newShop(body: Schemas['NewShop']): Promise<Mistake[]> {
    return this.settle(await ask(api.POST('/api/session/shop', { body })))
  }

  async signOut(): Promise<Mistake[]> {
    const only = outbox.onlyHere.length
    if (only)
      return [
        {
          field: '',
          message: `What was sent last (${only}) is in this tab alone: signing out would lose it.`,
          hint: 'Wait until it has arrived, or drop it.',
        },
      ]
    const answer = await ask(api.DELETE('/api/session'))
    // where nobody answers, this device forgets at once, and the server is told later
    const alone = answer?.problem && isAway(answer.problem.status) && leaving.begin()
    if (!answer?.data && !alone) return answer?.problem?.errors ?? []
    await kept.wipe({ left: true })
    this.#tabs.postMessage({ person: 0, workshop: 0 })
    this.clear()
    return []
  }

  /** What can be chosen, in the units of whoever is signed in. */
  private async choose(): Promise<Problem | null> {
    const answer = await ask(api.GET('/api/catalogue'))
    if (!answer?.data) return answer?.problem ?? { status: 0, errors: [] }
    this.catalogue = answer.data
    theme.tones(answer.data.families)
    return null
  }

  /** Other ways hold now: the sheets begin with them, and the catalogue speaks in their units. */
  async follow(ways: Schemas['Preferences']) {
    if (!this.who) return
    // the catalogue first: a sheet that is opened in between must not begin in the other unit
    if (this.who.ways.units !== ways.units) await this.choose()
    this.who = { ...this.who, ways }
    shop.units = ways.units
  }

  private async settle(answer: Awaited<ReturnType<typeof ask<Session>>>): Promise<Mistake[]> {
    if (!answer) return []
    if (answer.problem) return answer.problem.errors
    if (answer.data.wants_code) {
      this.who = answer.data
      return []
    }
    const { person_id: person, workshop_id: workshop } = answer.data
    await kept.signedIn(answer.data)
    this.#tabs.postMessage({ person, workshop })
    await this.entered(answer.data)
    return []
  }

  /** Nothing of this person stays on the screen; what they typed stays on the device, under their name. */
  private clear() {
    location.replace('/')
  }

  private retry(errors: Mistake[]) {
    this.away = errors
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => void this.start(), AGAIN_MS)
  }

  private async entered(session: Session) {
    const { person_id = 0, workshop_id = 0 } = session
    if (
      session.signed_in &&
      owner.person &&
      (owner.person !== person_id || owner.workshop !== workshop_id)
    )
      return this.clear()
    if (session.signed_in)
      Object.assign(owner, { person: person_id, workshop: workshop_id, epoch: session.epoch })
    const units = session.ways.units
    if (session.signed_in) shop.units = units
    if (session.signed_in && (!this.catalogue || this.catalogue.units !== units)) {
      const problem = await this.choose()
      if (problem) return this.retry(problem.errors)
    }
    this.away = []
    this.who = session
    if (!session.signed_in) return
    this.wasIn = true
    void outbox.start()
  }
}
export const session = new SessionState()

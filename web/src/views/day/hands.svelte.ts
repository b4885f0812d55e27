/** What a person does about a day: a step taken in hand or given back, put at a time; a wait that is seen to. */
import type { Mistake, Schemas } from '$lib/api/client'
import { outbox } from '$lib/outbox.svelte'
import { pulse } from '$lib/pulse.svelte'
import { stamp } from '$lib/text'

interface Step {
  job_id: number
  key: string
  name: string
}

export class Hands {
  mistakes = $state.raw<Mistake[]>([])

  take(step: Step) {
    return this.#send('POST', 'take', `${step.name} taken in hand`, of(step))
  }

  giveBack(step: Step) {
    return this.#send('POST', 'give', `${step.name} given back`, of(step))
  }

  /** Put a step at a time of the plan, for a person; without a time it is let go. */
  pin(step: Step, at: Date | null, personId: number | null) {
    const says = at ? `${step.name} put at a time` : `${step.name} let go`
    const body = { ...of(step), at: at?.toISOString() ?? null, person_id: personId }
    return this.#send('PUT', 'pins', says, body)
  }

  /** Somebody went home for today, or is back at the bench. */
  leave(person: Schemas['AtBench'], gone: boolean) {
    const says = `${person.name} ${gone ? 'went home' : 'is back at the bench'}`
    return this.#send('PUT', 'gone', says, {
      person_id: person.id,
      gone,
      at: stamp(pulse.now),
    })
  }

  /** A wait is over, or runs on so many minutes. */
  answer(timer: Schemas['Timer'], minutes: number | null) {
    const says = `${timer.name} ${minutes ? 'waits longer' : 'is seen to'}`
    return this.#send('POST', `waits/${timer.id}`, says, { minutes })
  }

  async #send(method: 'POST' | 'PUT', what: string, says: string, body: object) {
    const path = `/api/day/${what}`
    const done = await outbox.send<Schemas['Pulse']>({ method, path, body, says, where: '/' })
    this.mistakes = done.problem?.errors ?? []
    if (!done.problem) pulse.take(done.data)
  }
}

const of = ({ job_id, key }: Step) => ({ job_id, key })

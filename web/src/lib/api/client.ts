import createClient from 'openapi-fetch'

import type { components, paths } from './schema'

export type Schemas = components['schemas']
type PlanRing = paths['/api/plan/ring']['post']
export type RingPlan = PlanRing['responses'][200]['content']['application/json']
export type Order = PlanRing['requestBody']['content']['application/json']
export type Job = Schemas['JobOut']
export type Step = Schemas['Step']
export type Mistake = Schemas['Mistake']
export type Catalogue = Schemas['Catalogue']
export type Bench = Schemas['BenchOut']
export type BenchRing = Schemas['BenchRing']
export type Session = Schemas['Session']

/** What went wrong, in one shape whatever it was: refused, signed out, stale, or nobody answering. */
export interface Problem {
  status: number
  errors: Mistake[]
  version?: number
  changed?: string[]
}

export type Answer<T> = { data: T; problem: null } | { data: null; problem: Problem }

function csrf(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? ''
}

export const api = createClient<paths>({ baseUrl: '' })
api.use({
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrf())
    return request
  },
})

let onSignedOut: () => void = () => undefined

/** What to do when any answer says that nobody is signed in. */
export function whenSignedOut(then: () => void) {
  onSignedOut = then
}

const AWAY: Mistake = {
  field: '',
  message: 'The application does not answer.',
  hint: 'What you typed is kept on this screen; try again in a moment.',
}

interface Fetched<T> {
  data?: T
  error?: unknown
  response: Response
}

/** Wait for a call; a failure of any kind becomes a Problem. Aborted calls answer undefined. */
export async function ask<T>(call: Promise<Fetched<T>>): Promise<Answer<T> | undefined> {
  try {
    const { data, error, response } = await call
    if (response.ok && data !== undefined) return { data, problem: null }
    if (response.status === 401) onSignedOut()
    const body = error as Partial<Problem> | undefined
    const errors = body?.errors ?? [AWAY]
    return { data: null, problem: { ...body, status: response.status, errors } }
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === 'AbortError') return undefined
    return { data: null, problem: { status: 0, errors: [AWAY] } }
  }
}

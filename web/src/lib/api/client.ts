import createClient from 'openapi-fetch'

import { KEPT_AT, KeptAnswers } from '../kept.svelte'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
type PlanRing = paths['/api/plan/ring']['post']
export type RingPlan = PlanRing['responses'][200]['content']['application/json']
export type Order = PlanRing['requestBody']['content']['application/json']
export type ResizePlan = Schemas['ResizePlan']
/** The plan of a job, whatever work it is. */
export type PracticePlan = Schemas['PracticePlan']
export type WorkPlan = RingPlan | ResizePlan | PracticePlan
type PlanResize = paths['/api/plan/resize']['post']
export type ResizeOrder = PlanResize['requestBody']['content']['application/json']
type PlanPractice = paths['/api/plan/practice']['post']
export type PracticeOrder = PlanPractice['requestBody']['content']['application/json']
export type Job = Schemas['JobOut']
export type Step = Schemas['Step']
export type Mistake = Schemas['Mistake']
export type Catalogue = Schemas['Catalogue']
export type Bench = Schemas['BenchOut']
export type BenchRing = Schemas['BenchRing']
export type Session = Schemas['Session']
export type Conflict = Schemas['Conflict']

/** What went wrong, in one shape whatever it was: refused, signed out, stale, or nobody answering. */
export interface Problem extends Partial<Omit<Conflict, 'errors'>> {
  status: number
  errors: Mistake[]
}
export type Answer<T> = { data: T; problem: null } | { data: null; problem: Problem }

/** An answer that takes longer than this is no answer: a frozen server must not hold the screen. */
const PATIENCE_MS = 9_000

/** Whose this screen is. Every request says so; where somebody else is signed in by now, nothing is done.
 *
 * ``epoch`` grows with every restore of the records: what was done before one is asked about before it is sent.
 */
export const owner = { person: 0, workshop: 0, epoch: 0 }

/** Answers that were kept for when nobody answers. */
export const kept = new KeptAnswers(owner)

/** The time zone of this device: its clock holds where the shop has said none. */
const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone || ''

export function headers(): Record<string, string> {
  const csrf = /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? ''
  const mine: Record<string, string> = owner.person
    ? { 'Bench-Person': String(owner.person), 'Bench-Workshop': String(owner.workshop) }
    : {}
  return { 'X-CSRFToken': csrf, 'Bench-Zone': ZONE, ...mine }
}

/** A fetch that gives up after a while; where nobody answers, the answer that was kept, if there is one. */
export async function patient(request: Request): Promise<Response> {
  const name = await kept.nameOf(request)
  const begun = Date.now()
  let response: Response
  try {
    response = await fetch(request, {
      signal: AbortSignal.any([request.signal, AbortSignal.timeout(PATIENCE_MS)]),
    })
  } catch (cause) {
    if (!name || request.signal.aborted) throw cause
    const instead = await kept.instead(name)
    if (!instead) throw cause
    return instead
  }
  if (name && isAway(response.status)) return (await kept.instead(name)) ?? response
  if (name && response.ok) await kept.keep(name, response, begun)
  return response
}

export const api = createClient<paths>({ baseUrl: '', fetch: patient })
api.use({
  onRequest({ request }) {
    for (const [name, value] of Object.entries(headers())) request.headers.set(name, value)
    return request
  },
})

/** It was carried out, and its answer is not for what this person may see by now. */
export const OTHER_SIGHT = 'other-sight'

type Hook = () => void
const hooks: { signedOut: Hook; somebodyElse: Hook; otherPart: Hook; answered: Hook } = {
  signedOut: () => undefined,
  otherPart: () => undefined,
  somebodyElse: () => undefined,
  answered: () => undefined,
}

/** What to do when an answer says that nobody, or somebody else, is signed in, or when one comes at all. */
export function when(hook: keyof typeof hooks, then: Hook) {
  hooks[hook] = then
}

const AWAY: Mistake = {
  field: '',
  message: 'The application does not answer.',
  hint: 'What you typed is kept on this device; it is tried again.',
}

/** Statuses after which the same request may simply come again. */
export function isAway(status: number): boolean {
  return status === 0 || status === 502 || status === 503 || status === 504
}

/** Somebody answers. */
function heard() {
  kept.live()
  hooks.answered()
}

interface Fetched<T> {
  data?: T
  error?: unknown
  response: Response
}

/** What an answer says, and who should hear of it. */
export function problemOf(status: number, error: unknown): Problem {
  const body = error as Partial<Problem> | undefined
  if (status === 401 || status === 403) void kept.wipe()
  if (status === 401) hooks.signedOut()
  if (body?.kind === 'somebody-else') hooks.somebodyElse()
  if (body?.kind === 'not-allowed' || body?.kind === OTHER_SIGHT) hooks.otherPart()
  if (!isAway(status)) heard()
  const errors = Array.isArray(body?.errors) ? body.errors : [AWAY]
  return { ...body, status, errors }
}

/** What a call that threw means: nothing where it was given up on purpose, else that nobody answers. */
export function thrown(cause: unknown): Problem | undefined {
  if (cause instanceof DOMException && cause.name === 'AbortError') return undefined
  return { status: 0, errors: [AWAY] }
}

/** Wait for a call; a failure of any kind becomes a Problem. Aborted calls answer undefined. */
export async function ask<T>(call: Promise<Fetched<T>>): Promise<Answer<T> | undefined> {
  try {
    const { data, error, response } = await call
    if (response.ok && data !== undefined) {
      if (!response.headers.has(KEPT_AT)) heard()
      return { data, problem: null }
    }
    return { data: null, problem: problemOf(response.status, error) }
  } catch (cause) {
    const problem = thrown(cause)
    return problem && { data: null, problem }
  }
}

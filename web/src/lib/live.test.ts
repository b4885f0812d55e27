import { afterEach, beforeEach, expect, it, vi } from 'vitest'

import { Live } from './live.svelte'

beforeEach(() => vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] }))
afterEach(() => vi.useRealTimers())

const asks = (live: Live<string>, asked: string[]) => (text: string) =>
  live.want(() => {
    asked.push(text)
    return Promise.resolve({ data: text, problem: null })
  })

it('asks for the first letter at once, and once for those that follow fast', async () => {
  const live = new Live<string>()
  const asked: string[] = []
  const type = asks(live, asked)
  type('1')
  await vi.advanceTimersByTimeAsync(1)
  expect(asked).toEqual(['1'])
  for (const text of ['1.', '1.8', '1.85']) {
    type(text)
    await vi.advanceTimersByTimeAsync(10)
  }
  expect(asked).toEqual(['1'])
  await vi.advanceTimersByTimeAsync(40)
  expect(asked).toEqual(['1', '1.85'])
  expect(live.answer).toBe('1.85')
})

it('asks at once again after a pause', async () => {
  const live = new Live<string>()
  const asked: string[] = []
  const type = asks(live, asked)
  type('a')
  await vi.advanceTimersByTimeAsync(200)
  type('b')
  await vi.advanceTimersByTimeAsync(1)
  expect(asked).toEqual(['a', 'b'])
})

it('keeps the last good answer while what is typed cannot be read', async () => {
  const live = new Live<string>()
  asks(live, [])('good')
  await vi.advanceTimersByTimeAsync(100)
  live.want(() =>
    Promise.resolve({
      data: null,
      problem: { status: 422, errors: [{ field: 'x', message: 'no', hint: '' }] },
    }),
  )
  await vi.advanceTimersByTimeAsync(100)
  expect([live.answer, live.stale]).toEqual(['good', true])
})

it('lets one wait for the first answer, and for no second', async () => {
  const live = new Live<string>()
  const heard: string[] = []
  void live.answered().then(() => heard.push(live.answer ?? ''))
  await vi.advanceTimersByTimeAsync(50)
  expect(heard).toEqual([])
  asks(live, [])('good')
  await vi.advanceTimersByTimeAsync(100)
  expect(heard).toEqual(['good'])
  await live.answered()
})

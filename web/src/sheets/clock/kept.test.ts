import { createPinia } from 'pinia'
import { createApp } from 'vue'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { until } from '@/testing/app'
import { useClockQueue, workingAfter, type Pressed } from './kept'

/** What the book was asked for, and how it answers. */
let asked: { path: string; body: Record<string, unknown> }[]
let answer: (path: string) => Response | Promise<Response>
const place = { jobId: 1, job: '1187 Ferry landing', detail: '' }
const kept = () => Object.keys(localStorage).filter((key) => key.startsWith('jarvo-clock')).length

const open = (refused = () => false) =>
  createApp({})
    .use(createPinia())
    .runWithContext(() => useClockQueue(() => undefined, refused))

beforeEach(() => {
  localStorage.clear()
  asked = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url, location.href).pathname
    asked.push({ path, body: (await request.json()) as Record<string, unknown> })
    return answer(path)
  })
})
afterEach(() => vi.unstubAllGlobals())

it('keeps what is pressed without a connection, and sends it in order with its moment after a restart', async () => {
  answer = () => Promise.reject(new TypeError('lost'))
  const before = open()
  await before.press({ step: 'in', place })
  await before.press({ step: 'out' })
  expect(workingAfter(undefined, before.waiting.value.slice(0, 1), new Date())?.place.jobId).toBe(1)
  expect(workingAfter(undefined, before.waiting.value, new Date())).toBeUndefined()
  const [{ body: first }] = asked as [(typeof asked)[number]]
  expect(first.at).toBeUndefined()
  asked = []
  answer = () => Response.json({})
  const after = open()
  await until(() => expect(after.items.value).toEqual([]))
  expect(asked.map((a) => a.path)).toEqual(['/api/clock/in', '/api/clock/out'])
  expect(asked[0]!.body).toMatchObject({ key: first.key, at: expect.any(String) as string })
  expect(kept()).toBe(0)
})

it('keeps what is refused with the reason, and all that rests on it, until it is put away', async () => {
  answer = () => Promise.reject(new TypeError('lost'))
  const queue = open()
  await queue.press({ step: 'in', place })
  answer = (path) =>
    path.endsWith('/in')
      ? Response.json({ status: 409, detail: 'job 1187 is closed' }, { status: 409 })
      : Response.json({})
  await queue.press({ step: 'out' })
  const said = () => queue.items.value.map((i: Pressed) => i.said)
  expect(said()).toEqual(['job 1187 is closed', 'what was pressed before it was refused'])
  expect(asked.filter((a) => a.path.endsWith('/out'))).toEqual([])
  answer = () => Response.json({})
  await queue.press({ step: 'in', place })
  expect(said()).toEqual(['job 1187 is closed', 'what was pressed before it was refused']) // the next stretch goes on
  for (const { key } of [...queue.items.value]) queue.putAway(key)
  expect(kept()).toBe(0)
})

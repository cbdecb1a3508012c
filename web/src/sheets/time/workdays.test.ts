import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import { useFooting } from '@/book/footing'
import { useUndo } from '@/book/undo'
import { bookThat, inApp, refusal, type Call, until } from '@/testing/app'
import { useWorkdays } from './workdays'

beforeEach(() => localStorage.clear())
afterEach(() => vi.unstubAllGlobals())

interface Sent {
  workers: { workerId: number; text: string; version: number }[]
}
const sent = (calls: Call[]) => calls.filter((c) => c.what === 'PUT /api/time/day').map((c) => (c.body as Sent).workers)

/** A day of two workers in a book that refuses what was seen stale; an answer may be held back. */
async function day(answer: (body: Sent) => unknown = () => undefined) {
  const book = [1, 2].map((id) => ({
    worker: { id, code: `W${id}`, name: `N${id}` },
    version: 0,
    start: '',
    finish: '',
    break: '',
  }))
  let hold: Promise<void> | undefined
  const calls = bookThat({
    'GET /api/time/day': () => ({ workers: book }),
    'PUT /api/time/day': async (body: Sent) => {
      const refused = answer(body)
      if (refused) return refused
      const stale = body.workers.findIndex((w) => book[w.workerId - 1]!.version !== w.version)
      if (stale >= 0)
        return refusal(409, 'look again', { [`workers[${stale}].text`]: 'somebody else has changed this' })
      for (const w of body.workers) {
        const at = book[w.workerId - 1]!
        const [, start, finish, pause] = /^(.*?)-(.*?)(?:\/(.*))?$/.exec(w.text) ?? []
        Object.assign(at, { version: at.version + 1, start, finish, break: pause ?? '0' })
      }
      const now = structuredClone({ workers: book })
      await hold
      return now
    },
  })
  const made = inApp(() => ({
    days: useWorkdays(ref({ date: '2026-11-16', crew: 'Pile' })),
    footing: useFooting(),
    undo: useUndo(),
  }))
  await until(() => expect(made.days.workers.value).toHaveLength(2))
  return {
    ...made,
    calls,
    worker: (n: number) => made.days.workers.value[n]!,
    holdBack: (until: Promise<void>) => (hold = until),
  }
}

describe("a crew's day by the clock", () => {
  it('is sent when start and finish are there', async () => {
    const { days, calls, worker, footing } = await day()
    days.type(worker(0), 'start', '7')
    expect(sent(calls)).toEqual([])
    days.type(worker(0), 'finish', '3:30')
    await until(() => expect(days.drafts.size).toBe(0))
    expect(sent(calls)).toEqual([[{ workerId: 1, text: '7-3:30', version: 0 }]])
    expect(footing.unsaved).toBe(false)
  })
  it('keeps what is typed while a save is on its way, and sends it after, as a change of what was saved', async () => {
    const { days, calls, worker, footing, holdBack } = await day()
    let arrive = () => {}
    void holdBack(new Promise<void>((done) => (arrive = done)))
    days.type(worker(0), 'start', '7')
    days.type(worker(0), 'finish', '3:30')
    await until(() => expect(sent(calls)).toHaveLength(1))
    days.type(worker(0), 'break', '30')
    expect(days.shown(worker(0), 'break')).toBe('30')
    arrive()
    await until(() => expect(days.drafts.size).toBe(0))
    expect(sent(calls)[1]).toEqual([{ workerId: 1, text: '7-3:30/0:30', version: 1 }])
    expect(days.shown(worker(0), 'break')).toBe('0:30')
    expect(footing.unsaved).toBe(false)
  })
  it('is kept where it is refused, with the sentence, and the others are saved', async () => {
    const { days, calls, worker, footing } = await day((body) => {
      const wrong = body.workers.findIndex((w) => w.text.startsWith('25'))
      return wrong < 0 ? undefined : refusal(422, 'look again', { [`workers[${wrong}].text`]: 'there is no hour 25' })
    })
    days.fill([worker(0)], { start: '25', finish: '3', break: '' })
    days.fill([worker(1)], { start: '7', finish: '3', break: '' })
    await until(() => expect(sent(calls).at(-1)).toMatchObject([{ workerId: 2 }]))
    await until(() => expect([...days.drafts.keys()]).toEqual([1]))
    expect(days.drafts.get(1)).toMatchObject({ start: '25', said: 'there is no hour 25' })
    days.type(worker(0), 'start', '6')
    await until(() => expect(days.drafts.size).toBe(0))
    expect(footing.unsaved).toBe(false)
  })
  it('is taken back in one step', async () => {
    const { days, calls, worker, undo } = await day()
    days.fill([worker(0)], { start: '7', finish: '3', break: '' })
    await until(() => expect(days.drafts.size).toBe(0))
    days.type(worker(0), 'finish', '4')
    await until(() => expect(sent(calls)).toHaveLength(2))
    await until(() => expect(days.drafts.size).toBe(0))
    undo.undo()
    await until(() => expect(sent(calls).at(-1)).toEqual([{ workerId: 1, text: '7-3', version: 2 }]))
  })
  it('is kept on the machine where it could not be sent, and is sent when the day is opened again', async () => {
    let away = true
    const first = await day(() => (away ? refusal(503, 'the book did not answer') : undefined))
    first.days.type(first.worker(0), 'start', '7')
    first.days.type(first.worker(0), 'finish', '3:30')
    await until(() => expect(sent(first.calls).length).toBeGreaterThan(0))
    away = false
    const again = await day()
    await until(() => expect(sent(again.calls)).toEqual([[{ workerId: 1, text: '7-3:30', version: 0 }]]))
    await until(() => expect(localStorage.getItem(Object.keys(localStorage)[0]!)).toBe('{}'))
  })
})

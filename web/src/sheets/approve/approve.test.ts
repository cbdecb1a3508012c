import { afterEach, describe, expect, it, vi } from 'vitest'
import { useUndo } from '@/book/undo'
import { bookThat, inApp, refusal, until } from '@/testing/app'
import { useWaiting } from './waiting'

afterEach(() => vi.unstubAllGlobals())

const week = (workerId: number, patch: object = {}) => ({
  workerId,
  worker: `W${workerId}`,
  trade: 'Rigger',
  crew: 'Pile',
  week: '2026-11-16',
  entries: [
    { id: workerId * 10, version: 2 },
    { id: workerId * 10 + 1, version: 3 },
  ],
  hours: '40.00',
  cost: '2000.00',
  charge: '3100.50',
  marks: [],
  ...patch,
})
const paper = {
  documentId: 7,
  version: 4,
  title: 'Northquay',
  detail: 'Receipt 12',
  lines: 1,
  cost: '95.25',
  charge: '104.78',
}
const seen = (id: number) => [
  { id, version: 2 },
  { id: id + 1, version: 3 },
]
const sheet = { weeks: [week(1), week(2, { marks: [{ what: 'Long day', against: '14 h' }] })], papers: [paper] }

async function open(answers: Record<string, unknown> = {}) {
  const calls = bookThat({ 'GET /api/approve': sheet, 'POST /api/approve': {}, 'POST /api/return': {}, ...answers })
  const { waiting, undo } = inApp(() => ({ waiting: useWaiting(), undo: useUndo() }), '/approve')
  await until(() => expect(waiting.rows.value).toHaveLength(3))
  return { waiting, undo, decided: () => calls.filter((c) => c.what.startsWith('POST ')) }
}

describe('what waits for approval', () => {
  it('is weeks and papers, one kind or both, and the plain ones have no marks', async () => {
    const { waiting } = await open()
    expect(waiting.rows.value.map((r) => [r.title, r.sub, r.group])).toEqual([
      ['W1', 'Rigger', 'Pile'],
      ['W2', 'Rigger', 'Pile'],
      ['Northquay', 'Receipt 12, 1 line', 'Papers'],
    ])
    expect(waiting.plain.value.map((r) => r.title)).toEqual(['W1', 'Northquay'])
    waiting.kind.value = 'papers'
    expect(waiting.rows.value.map((r) => r.title)).toEqual(['Northquay'])
  })
  it('is added up to the cent over what is chosen, or else over the row in hand', async () => {
    const { waiting } = await open()
    expect(waiting.sums(waiting.subject.value)).toEqual({ hours: '40.00', cost: '2000.00', charge: '3100.50' })
    waiting.toggle(waiting.rows.value[1]!)
    waiting.toggle(waiting.rows.value[2]!)
    expect(waiting.sums(waiting.subject.value)).toEqual({ hours: '40.00', cost: '2095.25', charge: '3205.28' })
    waiting.toggle(waiting.rows.value[1]!)
    expect(waiting.picked.value.map((r) => r.title)).toEqual(['Northquay'])
  })
  it('is stepped through, and stops at both ends', async () => {
    const { waiting } = await open()
    waiting.step(-1)
    expect(waiting.current.value?.title).toBe('W1')
    waiting.step(1)
    waiting.step(1)
    waiting.step(1)
    expect(waiting.current.value?.title).toBe('Northquay')
  })
})

describe('a decision', () => {
  it('goes to the book as one, and the next row that was not decided is in hand', async () => {
    const { waiting, decided } = await open()
    const [first, second, last] = waiting.rows.value
    waiting.toggle(first!)
    waiting.toggle(last!)
    expect(await waiting.decide('/api/approve', [first!])).toBe(true)
    expect(waiting.at.value).toBe(second!.key)
    expect(waiting.chosen.value.length).toBe(0)
    await waiting.decide('/api/return', [second!, last!], 'which job?')
    expect(decided()).toEqual([
      { what: 'POST /api/approve', body: { entries: seen(10), documents: [], reason: '' } },
      {
        what: 'POST /api/return',
        body: { entries: seen(20), documents: [{ id: 7, version: 4 }], reason: 'which job?' },
      },
    ])
  })
  it('is undone as it was answered, and done again', async () => {
    const now = { entries: [{ id: 10, version: 9 }], documents: [] }
    const { waiting, decided, undo } = await open({
      'POST /api/approve': { entries: [{ id: 10, version: 8 }], documents: [] },
      'POST /api/take-back': now,
    })
    await waiting.decide('/api/approve', [waiting.rows.value[0]!])
    expect(undo.last).toBe('W1 approved')
    undo.undo()
    undo.redo() // pressed before the book has answered
    await until(() => expect(undo.said).toBe('Taken back: W1 approved'))
    undo.redo()
    await until(() => expect(undo.said).toBe('Done again: W1 approved'))
    expect(decided().map(({ what, body }) => [what, (body as typeof now).entries])).toEqual([
      ['POST /api/approve', seen(10)],
      ['POST /api/take-back', [{ id: 10, version: 8 }]],
      ['POST /api/approve', now.entries],
    ])
  })
  it('is taken once, however often it is pressed', async () => {
    const { waiting, decided } = await open()
    const first = waiting.rows.value[0]!
    const pressed = [waiting.decide('/api/approve', [first]), waiting.decide('/api/approve', [first])]
    expect(await Promise.all(pressed)).toEqual([true, false])
    expect(decided()).toHaveLength(1)
    expect(waiting.said.value).toBe('')
  })
  it('that is refused says why and leaves what was chosen', async () => {
    const { waiting } = await open({ 'POST /api/approve': refusal(409, 'some of this has changed; look again') })
    waiting.toggle(waiting.rows.value[0]!)
    expect(await waiting.decide('/api/approve', waiting.picked.value)).toBe(false)
    expect(waiting.said.value).toBe('some of this has changed; look again')
    expect(waiting.picked.value).toHaveLength(1)
    expect(waiting.busy.value).toBe(false)
  })
})

import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Place } from '@/book/outbox'
import { useUndo } from '@/book/undo'
import { useScope } from '@/book/scope'
import { bookThat, inApp, type Call, until } from '@/testing/app'
import { crewActs } from './acts'
import { useCrewSheet } from './crewSheet'
import { keyOf, type Cell } from './lines'

const days = [16, 17, 18, 19, 20, 21, 22].map((d) => `2026-11-${d}`)
const named = (id: number, name: string) => ({ id, code: name, name })
const crew = [named(1, 'Ada'), named(2, 'Bo'), named(3, 'Cy')]

/** A line of the book with hours by day; a day may be locked. */
function line(worker: number, job: number, hours: Record<number, string>, locked?: number) {
  const place: Place = { worker: crew[worker - 1]!, job: named(job, `J${job}`), billable: true, payClass: 'auto' }
  const cells: Cell[] = days.map((date, day) => ({
    date,
    entries: hours[day] ? 1 : 0,
    hours: hours[day] ?? '',
    text: hours[day] ?? '',
    ...(hours[day] ? { entryId: worker * 100 + job * 10 + day, version: 1 } : {}),
    ...(day === locked ? { locked: 'billed' } : {}),
  }))
  return { ...place, key: keyOf(place), cells, hours: Object.values(hours).join('+'), overtime: '', trail: {} }
}
const sheetOf = (...lines: ReturnType<typeof line>[]) => ({ week: days[0], days, members: crew, lines, footing: {} })

interface Edit {
  workerId: number
  jobId: number
  date: string
  text: string
  entryId?: number
}
let calls: Call[]
const edits = () =>
  calls.filter((c) => c.what === 'PUT /api/time/cells').flatMap((c) => (c.body as { edits: Edit[] }).edits)
const sent = () => edits().map((e) => [e.workerId, e.jobId, days.indexOf(e.date), e.text])

async function open(...lines: ReturnType<typeof line>[]) {
  let made = 1000
  let shown = sheetOf(...lines)
  calls = bookThat({
    'GET /api/time/sheet': () => shown,
    'PUT /api/time/cells': (body: { edits: Edit[] }) => {
      const saved = body.edits.map((e) => {
        if (!lines.some((l) => l.worker.id === e.workerId && l.job.id === e.jobId))
          lines.push(line(e.workerId, e.jobId, {}))
        const at = lines.find((l) => l.worker.id === e.workerId && l.job.id === e.jobId)!
        const cell = at.cells[days.indexOf(e.date)] ?? at.cells[0]!
        const now = e.text ? { entryId: e.entryId ?? made++, version: (cell.version ?? 0) + 1 } : {}
        at.cells[at.cells.indexOf(cell)] = {
          ...now,
          date: cell.date,
          entries: e.text ? 1 : 0,
          hours: e.text,
          text: e.text,
        }
        return now
      })
      return { ...sheetOf(...lines), saved }
    },
  })
  const choices = { jobs: [{ id: 9, status: 'closed' }] } as never
  const opened = inApp(() => {
    const sheet = useCrewSheet(useScope())
    return { sheet, acts: crewActs(sheet, () => choices), undo: useUndo() }
  }, '/time?from=2026-11-16&crew=Pile')
  await until(() => expect(opened.sheet.lines.value).toHaveLength(lines.length))
  const lastWeek = (...of: ReturnType<typeof line>[]) => (shown = sheetOf(...of))
  const settled = (count: number) => until(() => expect(sent()).toHaveLength(count))
  return { ...opened, lines: opened.sheet.lines, lastWeek, settled }
}

beforeEach(() => localStorage.clear())
afterEach(() => vi.unstubAllGlobals())

describe('a block of cells', () => {
  it('is emptied, but for what is locked', async () => {
    const { acts, lines, settled } = await open(line(1, 1, { 0: '8', 1: '7', 2: '6' }, 1))
    acts.set(
      days.map((_, day) => ({ line: lines.value[0]!, day, text: '' })),
      'emptied',
    )
    await settled(2)
    expect(sent()).toEqual([
      [1, 1, 0, ''],
      [1, 1, 2, ''],
    ])
  })
  it('is one step to take back', async () => {
    const { acts, lines, settled, undo } = await open(line(1, 1, { 0: '8' }), line(2, 1, {}))
    acts.set(
      lines.value.flatMap((line) => [0, 1].map((day) => ({ line, day, text: '4' }))),
      'pasted',
    )
    await settled(4)
    undo.undo()
    await settled(8)
    expect(sent().slice(4)).toEqual([
      [1, 1, 0, '8'],
      [1, 1, 1, ''],
      [2, 1, 0, ''],
      [2, 1, 1, ''],
    ])
  })
})

describe('crew fill', () => {
  it('gives everybody who has none the hours of a line, and says who keeps what is there', async () => {
    const { acts, lines, settled } = await open(line(1, 1, { 0: '8', 1: '8' }), line(2, 5, { 0: '3' }))
    expect(acts.crewFill(lines.value[0]!)).toBe('Filled 2 of 2; Bo keeps what is there')
    await settled(3)
    expect(sent()).toEqual([
      [2, 1, 1, '8'],
      [3, 1, 0, '8'],
      [3, 1, 1, '8'],
    ])
  })
  it('says so where there is nothing to fill', async () => {
    const { acts, lines } = await open(line(1, 1, { 0: '8' }), line(2, 1, { 0: '8' }), line(3, 1, { 0: '8' }))
    expect(acts.crewFill(lines.value[0]!)).toBe('Everybody has hours on these days already')
    expect(sent()).toEqual([])
  })
})

describe('last week', () => {
  const before = [line(1, 1, { 0: '8', 4: '6' }), line(2, 9, { 0: '8' })]
  it('is repeated with its hours, closed jobs left out, and nothing that is there is typed over', async () => {
    const { acts, lastWeek, settled } = await open(line(1, 1, { 0: '5' }))
    lastWeek(...before)
    expect(await acts.repeat(true)).toBe('1 cell from last week; 1 line left out, closed job or gone')
    await settled(1)
    expect(edits()[0]).toMatchObject({ workerId: 1, jobId: 1, date: '2026-11-27', text: '6' })
  })
  it('is repeated as lines only', async () => {
    const { acts, lastWeek, lines } = await open(line(3, 1, { 0: '5' }))
    lastWeek(...before)
    expect(await acts.repeat(false)).toBe('1 line from last week; 1 line left out, closed job or gone')
    expect(lines.value.map((l) => [l.worker.name, l.hours])).toEqual([
      ['Cy', '5'],
      ['Ada', ''],
    ])
    expect(sent()).toEqual([])
  })
  it('says why there is nothing to repeat', async () => {
    const { acts, lastWeek } = await open(line(3, 1, { 0: '5' }))
    lastWeek(line(2, 9, { 0: '8' }))
    expect(await acts.repeat(true)).toBe('Nothing of last week can be repeated: the jobs are closed')
    lastWeek()
    expect(await acts.repeat(true)).toBe('There were no hours the week before')
  })
})

describe('a line', () => {
  it('is booked on other terms with all of its days that can be changed, as the same entries', async () => {
    const { acts, lines, settled } = await open(line(1, 1, { 0: '8', 1: '8', 2: '8' }, 1))
    acts.billable(lines.value[0]!, false)
    await settled(2)
    expect(edits()).toMatchObject([
      { entryId: 110, billable: false, text: '8' },
      { entryId: 112, billable: false, text: '8' },
    ])
  })
  it('without hours only moves in this window', async () => {
    const { acts, lines, sheet } = await open(line(1, 1, { 0: '8' }))
    sheet.addLines([{ worker: crew[0]!, job: named(4, 'J4'), billable: true, payClass: 'auto' }])
    acts.move(lines.value[1]!, { costCode: named(2, 'Welding') }, 'elsewhere')
    expect(lines.value.map((l) => l.costCode?.name)).toEqual([undefined, 'Welding'])
    expect(sent()).toEqual([])
  })
  it('has notes on single cells', async () => {
    const { acts, lines, settled } = await open(line(1, 1, { 0: '8' }))
    acts.detail(lines.value[0]!, 0, {}, 'waited for the tide')
    await settled(1)
    expect(edits()[0]).toMatchObject({ entryId: 110, text: '8', note: 'waited for the tide' })
  })
})

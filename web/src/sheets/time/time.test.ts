import { describe, expect, it } from 'vitest'
import { withPart } from '@/book/crewSheets'
import type { Outgoing, Place } from '@/book/outbox'
import { readBlock, writeBlock } from '@/parts/clipboard'
import { allLines, emptyLine, keyOf, namesLines, type Sheet } from './lines'

const named = (id: number, name: string) => ({ id, code: name.toLowerCase(), name })
const place = (worker: number, job: number, patch: Partial<Place> = {}): Place => ({
  worker: named(worker, `W${worker}`),
  job: named(job, `J${job}`),
  billable: true,
  payClass: 'auto',
  ...patch,
})
const days = ['2026-11-16', '2026-11-17']
const sheet = (...lines: Place[]): Sheet =>
  ({
    week: days[0],
    days,
    lines: lines.map((p) => emptyLine(p, days)),
    members: [],
    crews: ['Pile'],
  }) as unknown as Sheet

describe('lines of a crew sheet', () => {
  it('are told apart by all that an entry is booked by', () => {
    const keys = [
      place(1, 1),
      place(1, 2),
      place(1, 1, { billable: false }),
      place(1, 1, { payClass: 'overtime' }),
      place(1, 1, { costCode: named(3, 'C') }),
      place(1, 1, { rate: '90' }),
    ].map(keyOf)
    expect(new Set(keys).size).toBe(keys.length)
    expect(keyOf(place(1, 1, { ownRate: true }))).not.toBe(keyOf(place(1, 1)))
  })
  it('come with those that have no hours yet, behind the other lines of their worker', () => {
    const lines = allLines(sheet(place(1, 1), place(2, 1)), [place(1, 5), place(3, 1)], [])
    expect(lines.map((l) => [l.worker.id, l.job.id])).toEqual([
      [1, 1],
      [1, 5],
      [2, 1],
      [3, 1],
    ])
  })
  it('keep what was typed and is not saved, each once', () => {
    const unsent = [
      { sheet: { week: days[0] }, place: place(1, 7) },
      { sheet: { week: days[0] }, place: place(1, 7) },
      { sheet: { week: '2026-11-23' }, place: place(1, 8) },
    ] as Outgoing[]
    expect(allLines(sheet(place(1, 1)), [], unsent).map((l) => l.job.id)).toEqual([1, 7])
  })
})

describe('a part of a sheet that was read again', () => {
  const part = (workers: number[], ...lines: Place[]) => ({ ...sheet(...lines), part: workers, hours: '9' }) as Sheet
  it('takes the place of the lines of its workers, in the order of names', () => {
    const now = withPart(sheet(place(1, 1), place(2, 1), place(3, 1)), part([2], place(2, 4)))!
    expect(now.lines!.map((l) => [l.worker.id, l.job.id])).toEqual([
      [1, 1],
      [2, 4],
      [3, 1],
    ])
    expect(now.hours).toBe('9')
    expect(now.crews).toEqual(['Pile'])
  })
  it('takes away what was taken away', () => {
    expect(withPart(sheet(place(1, 1), place(2, 1)), part([2]))!.lines!.map((l) => l.worker.id)).toEqual([1])
  })
  it('is all of it where nothing was there or all was read', () => {
    expect(withPart(undefined, part([2]))).toBeUndefined()
    const whole = sheet(place(4, 4))
    expect(withPart(sheet(place(1, 1)), whole)).toBe(whole)
  })
})

describe('blocks of a spreadsheet', () => {
  it('come back as they went', () => {
    const block = [
      ['8', '7-3:30/30'],
      ['', 'a "quoted" text'],
    ]
    expect(readBlock(writeBlock(block))).toEqual(block)
  })
  it('are lines where they name workers and jobs', () => {
    expect(namesLines([['Cato Brandl', 'Ferry landing', '8']])).toBe(true)
    expect(
      namesLines([
        ['8', '7-3:30'],
        ['Cato', '8'],
      ]),
    ).toBe(false)
  })
})

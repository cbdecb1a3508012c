import { afterEach, describe, expect, it, vi } from 'vitest'
import { bookThat, inApp, refusal } from '@/testing/app'
import { filledFor, settledBy, useSettling, type LooseEnd } from './settle'

afterEach(() => vi.unstubAllGlobals())

const end = (kind: string, patch: Partial<LooseEnd> = {}): LooseEnd => ({
  kind,
  title: '',
  why: '',
  where: '',
  detail: '',
  ageDays: 3,
  step: '',
  link: { kind: 'job', id: '1187' },
  subject: 'X',
  aside: false,
  date: '2026-11-18',
  ...patch,
})
const filled = { hours: '8', job: 4, code: 6, value: '95', from: '2026-11-02', whom: 'trade' }

describe('what settles a loose end', () => {
  it('begins with what is known of it', () => {
    const hole = end('hole', { hours: '7.5', jobId: 4, costCodeId: 6 })
    expect(filledFor(hole, [hole])).toMatchObject({ hours: '7.5', job: 4, code: 6, from: '2026-11-18' })
  })
  it('gives a rate from the first day that any work of its kind lacks it', () => {
    const all = [
      end('no_rate', { trade: 'Diver', date: '2026-11-12' }),
      end('no_rate', { trade: 'Diver', date: '2026-11-03' }),
      end('no_rate', { trade: 'Rigger', date: '2026-10-01' }),
      end('no_wage', { trade: 'Diver', date: '2026-09-01' }),
    ]
    expect(filledFor(all[0]!, all).from).toBe('2026-11-03')
  })

  const diver = {
    workerId: 2,
    crew: 'Dive',
    trade: 'Diver',
    category: 'material',
    jobId: 4,
    lineId: 9,
    mark: '1.2',
    entries: 5,
    version: 8,
  }
  const calls: Record<string, [string, object][]> = {
    hole: [
      [
        'PUT /api/time/cells',
        {
          week: '2026-11-18',
          crew: 'Dive',
          edits: [{ workerId: 2, date: '2026-11-18', text: '8', jobId: 4, costCodeId: 6 }],
        },
      ],
      ['POST /api/time/hand-in', { week: '2026-11-18', crew: 'Dive', mark: '3.7' }],
    ],
    not_handed_in: [['POST /api/time/hand-in', { week: '2026-11-18', crew: 'Dive', mark: '1.2' }]],
    no_code: [['POST /api/jobs/4/code', { costCodeId: 6, entries: 5 }]],
    no_job: [['POST /api/costs/lines/9/place', { jobId: 4, costCodeId: 6, version: 8 }]],
    no_wage: [['POST /api/wages', { workerId: 2, rate: '95', effectiveFrom: '2026-11-02' }]],
    no_rate: [
      ['POST /api/labour-rates', { trade: 'Diver', method: 'hourly', value: '95', effectiveFrom: '2026-11-02' }],
    ],
    no_markup: [['POST /api/markups', { category: 'material', percent: '95', effectiveFrom: '2026-11-02' }]],
    late: [['POST /api/bill/drafts', { jobs: [4], through: '2026-11-25', date: '2026-11-25' }]],
  }
  it.each(Object.keys(settledBy))('is one step in place: %s', async (kind) => {
    const sent = bookThat(Object.fromEntries(calls[kind]!.map(([what]) => [what, { mark: '3.7' }])))
    const settling = inApp(useSettling)
    expect(await settling.settle(end(kind, { ...diver, handIn: true }), filled, '2026-11-25')).toBe(true)
    expect(sent.filter((c) => !c.what.startsWith('GET'))).toMatchObject(
      calls[kind]!.map(([what, body]) => ({ what, body })),
    )
    expect(settling.settled.value).toBe(1)
  })
  it('is for one worker where that is wanted, and a late hole only handed in with a week that was', async () => {
    const sent = bookThat({})
    const settling = inApp(useSettling)
    await settling.settle(end('no_rate', diver), { ...filled, whom: 'worker' }, '2026-11-25')
    await settling.settle(end('hole', diver), filled, '2026-11-25')
    expect(sent.map((c) => c.what)).toEqual(['POST /api/labour-rates', 'PUT /api/time/cells'])
    expect(sent[0]!.body).toMatchObject({ workerId: 2 })
    expect(sent[0]!.body).not.toHaveProperty('trade')
  })
  it('is the same hours where it was sent once more for want of an answer', async () => {
    let lost = true
    const sent = bookThat({ 'PUT /api/time/cells': () => (lost ? refusal(503, 'no answer') : {}) })
    const settling = inApp(useSettling)
    const settle = () => settling.settle(end('hole', diver), filled, '2026-11-25')
    expect(await settle()).toBe(false)
    lost = false
    expect(await settle()).toBe(true)
    await settle()
    const keys = sent.map((c) => (c.body as { edits: { key: string }[] }).edits[0]!.key)
    expect(keys[1]).toBe(keys[0])
    expect(keys[2]).not.toBe(keys[0])
  })
  it('stays open where it is refused, with the sentence of the field', async () => {
    bookThat({ 'POST /api/wages': refusal(422, 'look again', { rate: 'a wage is a number' }) })
    const settling = inApp(useSettling)
    expect(await settling.settle(end('no_wage', diver), filled, '2026-11-25')).toBe(false)
    expect(settling.said.value).toBe('a wage is a number')
    expect(settling.settled.value).toBe(0)
  })
})

describe('what is none', () => {
  it('is set aside with a reason, and brought back', async () => {
    const sent = bookThat({})
    const settling = inApp(useSettling)
    await settling.setAside(end('hole', { subject: 'W02 2026-11-18' }), 'on leave')
    await settling.bringBack({ kind: 'hole', subject: 'W02 2026-11-18' } as never)
    expect(sent.map((c) => c.what)).toEqual(['POST /api/loose-ends/aside', 'DELETE /api/loose-ends/aside'])
    expect(sent[0]!.body).toEqual({ kind: 'hole', subject: 'W02 2026-11-18', reason: 'on leave' })
  })
})

import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { bookThat, inApp, refusal, type Call, until } from '@/testing/app'
import { blankDocument, blankLine, useDocument, type Document } from './document'

beforeEach(() => localStorage.clear())
afterEach(() => vi.unstubAllGlobals())

const receipt = (patch: Partial<Document> = {}): Document => ({
  ...blankDocument('2026-11-25', 4),
  supplier: 'Northquay',
  ...patch,
})
const bolts = { ...blankLine(4), description: 'Bolts', quantity: '2', unitCost: '5' }
const wire = { ...blankLine(4), description: 'Wire', quantity: '', unitCost: '3' }
const puts = (calls: Call[]) => calls.filter((c) => c.what === 'PUT /api/costs').map((c) => c.body as Document)

describe('a paper that is typed', () => {
  it('begins with three lines for the job in hand', () => {
    expect(blankDocument('2026-11-25', 4).lines!.map((l) => [l.jobId, l.billable])).toEqual([
      [4, true],
      [4, true],
      [4, true],
    ])
  })
  it('is sent without the lines that nothing was typed into, one of each where no quantity was', async () => {
    const calls = bookThat({ 'PUT /api/costs': (body: Document) => ({ ...body, id: 1, version: 1 }) })
    const paper = inApp(useDocument)
    paper.open(receipt({ lines: [blankLine(4), bolts, blankLine(4), wire] }))
    await paper.save()
    expect(puts(calls)[0]!.lines!.map((l) => [l.description, l.quantity])).toEqual([
      ['Bolts', '2'],
      ['Wire', '1'],
    ])
    expect(paper.typed.value!.id).toBe(1)
  })
  it('has what is wrong beside the line that it was typed into', async () => {
    bookThat({ 'PUT /api/costs': refusal(422, 'look again', { 'lines[1].unitCost': 'a cost is a number' }) })
    const paper = inApp(useDocument)
    paper.open(receipt({ lines: [blankLine(4), bolts, blankLine(4), wire] }))
    expect(await paper.save()).toBeUndefined()
    expect(paper.wrong.value).toEqual({ 'lines[3].unitCost': 'a cost is a number' })
    expect(paper.said.value).toBe('look again')
    expect(paper.busy.value).toBe(false)
  })
  it('says why it was refused until something else is typed, also where it is worked out later', async () => {
    const calls = bookThat({
      'PUT /api/costs': refusal(422, 'look again', { printed: '10.00 is missing' }),
      'POST /api/costs/preview': (body: Document) => body,
    })
    const previews = () => calls.filter((c) => c.what === 'POST /api/costs/preview').map((c) => c.body as Document)
    const workedOut = (printed: string) => until(() => expect(previews().map((d) => d.printed)).toContain(printed))
    const paper = inApp(useDocument)
    paper.open(receipt({ lines: [bolts] }))
    paper.typed.value!.printed = '20'
    paper.edited() // it is worked out a moment later
    await paper.save()
    await workedOut('20')
    await nextTick()
    expect(paper.wrong.value).toEqual({ printed: '10.00 is missing' })
    paper.typed.value!.printed = '10'
    paper.edited()
    await until(() => expect(paper.wrong.value).toEqual({}))
  })
  it('shows what each line comes to beside it, as the server works it out', async () => {
    const calls = bookThat({
      'POST /api/costs/preview': (body: Document) => ({
        ...body,
        lines: body.lines!.map((l) => ({ ...l, landed: `${Number(l.unitCost) * 2}.00` })),
      }),
    })
    const paper = inApp(useDocument)
    paper.open(receipt({ supplier: '', lines: [blankLine(4), bolts] }))
    paper.edited()
    await until(() => expect(paper.shown.value?.lines?.[1]).toMatchObject({ landed: '10.00' }))
    expect(paper.shown.value!.lines![0]!.description).toBe('')
    expect(calls.map((c) => (c.body as Document)?.supplier)).toContain('?') // none is typed yet
  })
  it('is saved before it is handed in, where it was changed', async () => {
    const calls = bookThat({
      'PUT /api/costs': (body: Document) => ({ ...body, id: 8, version: 3 }),
      'POST /api/costs/8/hand-in': { ...receipt({ lines: [bolts] }), id: 8, version: 4, status: 'submitted' },
    })
    const paper = inApp(useDocument)
    paper.open(receipt({ id: 8, version: 2, lines: [bolts] }))
    await paper.handIn()
    expect(puts(calls)).toEqual([])
    paper.edited() // a field that was left as it was
    expect(paper.changed.value).toBe(false)
    paper.typed.value!.number = '12'
    paper.edited()
    await paper.handIn()
    expect(puts(calls)).toHaveLength(1)
    const handed = calls.filter((c) => c.what.endsWith('hand-in')).map((c) => c.body)
    expect(handed).toEqual([{ version: 2 }, { version: 3 }])
    expect(paper.typed.value).toMatchObject({ status: 'submitted', version: 4 })
  })
})

describe('what is typed while the book is asked', () => {
  const saved = (body: Document) => ({
    ...body,
    id: 8,
    version: 3,
    lines: body.lines!.map((l, i) => ({ ...l, id: i + 1 })),
  })
  it('stays typed over a save that was on its way, on the version that was saved', async () => {
    let arrive = () => {}
    const calls = bookThat({
      'PUT /api/costs': async (body: Document) => {
        await new Promise<void>((done) => (arrive = done))
        return saved(body)
      },
    })
    const paper = inApp(useDocument)
    paper.open(receipt({ lines: [bolts] }))
    const first = paper.save()
    await until(() => expect(puts(calls)).toHaveLength(1))
    paper.typed.value!.lines![0]!.unitCost = '7'
    arrive()
    await first
    expect(paper.typed.value).toMatchObject({ id: 8, version: 3, lines: [{ id: 1, unitCost: '7' }] })
    expect(paper.changed.value).toBe(true)
  })
  it('is not replaced by the answer for another paper', async () => {
    let arrive = () => {}
    const calls = bookThat({
      'PUT /api/costs': async (body: Document) => {
        await new Promise<void>((done) => (arrive = done))
        return saved(body)
      },
    })
    const paper = inApp(useDocument)
    paper.open(receipt({ lines: [bolts] }))
    const first = paper.save()
    await until(() => expect(puts(calls)).toHaveLength(1))
    paper.open(receipt({ supplier: 'Half Way Stores', lines: [wire] }))
    arrive()
    await first
    expect(paper.typed.value!.supplier).toBe('Half Way Stores')
  })
  it('has the sums of the lines that can be worked out, where one can not', async () => {
    bookThat({
      'POST /api/costs/preview': (body: Document) =>
        body.lines!.some((l) => l.quantity === 'abc')
          ? refusal(422, 'look again', { 'lines[1].quantity': 'a quantity is a number' })
          : { ...body, goods: '10.00' },
    })
    const paper = inApp(useDocument)
    paper.open(receipt({ lines: [bolts, { ...wire, quantity: 'abc' }] }))
    paper.edited()
    await until(() => expect(paper.shown.value?.goods).toBe('10.00'))
    expect(paper.wrong.value).toEqual({ 'lines[1].quantity': 'a quantity is a number' })
  })
})

describe('a paper that somebody else saved meanwhile', () => {
  const theirs = receipt({ id: 8, version: 5, number: '77', lines: [wire] })
  async function stale() {
    const calls = bookThat({
      'PUT /api/costs': (body: Document) =>
        body.version === 5 ? { ...body, version: 6 } : refusal(409, 'Tom has changed this paper', {}, theirs),
    })
    const paper = inApp(useDocument)
    paper.open(receipt({ id: 8, version: 4, lines: [bolts] }))
    await paper.save()
    expect(paper.theirs.value).toMatchObject({ number: '77' })
    return { paper, calls }
  }
  it('can be taken as it is now', async () => {
    const { paper } = await stale()
    paper.takeTheirs()
    expect(paper.typed.value).toMatchObject({ version: 5, number: '77' })
    expect(paper.theirs.value).toBeUndefined()
  })
  it('or saved over, when that was chosen', async () => {
    const { paper, calls } = await stale()
    await paper.saveMine()
    expect(puts(calls).map((p) => p.version)).toEqual([4, 5])
    expect(paper.typed.value).toMatchObject({ version: 6, number: '' })
  })
})

describe('our own rates', () => {
  it('follow the date of the paper, unless they were typed over', async () => {
    bookThat({})
    const listed = { unitCost: '0.70', sellPrice: '0.95', effectiveFrom: '2026-01-01' }
    const miles = { ...blankLine(4), category: 'mileage', itemId: 2, description: 'Miles', quantity: '30', listed }
    const paper = inApp(useDocument)
    paper.open(
      receipt({
        kind: 'mileage',
        lines: [
          { ...miles, unitCost: '0.70', sellPrice: '0.95' },
          { ...miles, unitCost: '0.80', sellPrice: '0.95' },
        ] as Document['lines'],
      }),
    )
    await until(() => expect(paper.shown.value).toBeDefined())
    paper.typed.value!.date = '2026-12-30'
    await until(() =>
      expect(paper.typed.value!.lines!.map((l) => [l.unitCost, l.sellPrice])).toEqual([
        ['', ''],
        ['0.80', ''],
      ]),
    )
  })
})

describe('a paper that was not saved', () => {
  const typeOn = (paper: ReturnType<typeof useDocument>) => {
    paper.typed.value!.lines![0]!.description = 'Longer bolts'
    paper.edited()
  }
  it('is there again when it is opened again, also after a reload, until it is saved', async () => {
    bookThat({ 'PUT /api/costs': (body: Document) => ({ ...body, version: 3 }) })
    const paper = inApp(useDocument)
    paper.open(receipt({ id: 8, version: 2, lines: [bolts] }))
    typeOn(paper)
    paper.open(receipt({ id: 9, version: 1, lines: [wire] }))
    expect(paper.changed.value).toBe(false)
    await nextTick()

    const again = inApp(useDocument)
    again.open(receipt({ id: 8, version: 2, lines: [bolts] }), false)
    expect(again.typed.value!.lines![0]!.description).toBe('Bolts') // only refreshed, not opened
    again.open(receipt({ id: 8, version: 2, lines: [bolts] }))
    expect(again.typed.value!.lines![0]!.description).toBe('Longer bolts')
    expect(again.changed.value).toBe(true)
    await again.save()
    again.open(receipt({ id: 8, version: 3, lines: [bolts] }))
    expect(again.typed.value!.lines![0]!.description).toBe('Bolts')
  })
  it('and that the book does not know is listed, each by its key, the last one first', async () => {
    bookThat({ 'PUT /api/costs': (body: Document) => ({ ...body, id: 12, version: 1 }) })
    const paper = inApp(useDocument)
    for (const supplier of ['First', 'Second']) {
      paper.open(receipt({ supplier, lines: [bolts] }))
      typeOn(paper)
    }
    expect(paper.unsaved.fresh.value.map((d) => d.supplier)).toEqual(['Second', 'First'])
    await paper.save()
    expect(paper.unsaved.fresh.value.map((d) => d.supplier)).toEqual(['First'])
    paper.open(paper.unsaved.fresh.value[0]!)
    await paper.drop()
    expect(paper.unsaved.fresh.value).toEqual([])
    expect(paper.typed.value).toBeUndefined()
  })
  it('stays as it was typed where the book does not answer', async () => {
    bookThat({ 'GET /api/costs/8': refusal(503, 'no answer') })
    const paper = inApp(useDocument)
    paper.open(receipt({ id: 8, version: 2, lines: [bolts] }))
    typeOn(paper)
    expect(await paper.drop()).toBe(false)
    expect(paper.typed.value!.lines![0]!.description).toBe('Longer bolts')
    expect(paper.said.value).toBe('no answer')
    expect(paper.unsaved.of({ id: 8 })).toBeDefined()
  })
  it('is as the book has it again where its changes are dropped', async () => {
    bookThat({ 'GET /api/costs/8': receipt({ id: 8, version: 2, lines: [bolts] }) })
    const paper = inApp(useDocument)
    paper.open(receipt({ id: 8, version: 2, lines: [bolts] }))
    typeOn(paper)
    await paper.drop()
    expect(paper.typed.value!.lines![0]!.description).toBe('Bolts')
    expect(paper.changed.value).toBe(false)
  })
})

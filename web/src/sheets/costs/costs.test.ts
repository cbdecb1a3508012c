import { until } from '@/testing/app'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createApp, defineComponent, h, ref } from 'vue'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { blankLine, differences, type Document, type Line } from './document'
import { pastedDoubt, pastedLines, readPasted, type Known } from './pasted'
import { usePriceList } from './prices'
import { sendScan } from '@/parts/scans'

afterEach(() => vi.unstubAllGlobals())

const known: Known = {
  job: (text) => ({ '101': 1, '1187': 2 })[text],
  costCode: (text) => ({ '320': 9 })[text],
}
const lines = (text: string) => {
  const pasted = readPasted(text, known)
  return pasted && pastedLines(pasted, known)
}

describe('a table that is pasted is read before it becomes lines', () => {
  it('knows a job from a cost, and a unit from a text', () => {
    expect(lines('2x4 stud\t120\tea\t$3.98\t101')).toEqual([
      { line: { description: '2x4 stud', quantity: '120', unit: 'ea', unitCost: '3.98', jobId: 1 }, wrong: [] },
    ])
  })
  it('reads what, quantity, unit and cost in the order they come in', () => {
    expect(lines('Diesel\t540\tl\t1.33\r\nShackles\t6\t\t11.35')!.map((l) => l.line)).toEqual([
      { description: 'Diesel', quantity: '540', unit: 'l', unitCost: '1.33' },
      { description: 'Shackles', quantity: '6', unit: '', unitCost: '11.35' },
    ])
  })
  it('reads one number as the cost, with thousands', () => {
    expect(lines('Crane hire\t1,250.50')![0]!.line).toMatchObject({ quantity: '1', unitCost: '1250.50' })
  })
  it('goes by the heads where there are some', () => {
    expect(lines('Item\tUnit price\tQty\tCost code\nBolts\t2.50\t8\t320')).toEqual([
      { line: { description: 'Bolts', quantity: '8', unit: '', unitCost: '2.50', costCodeId: 9 }, wrong: [] },
    ])
  })
  it('holds an amount against quantity and cost, and takes it for neither', () => {
    expect(lines('Bolts\t8\t2.50\t20.00')![0]).toMatchObject({ line: { unitCost: '2.50' }, wrong: [] })
    expect(lines('Bolts\t8\t2.50\t25.00')![0]!.wrong).toEqual(['8 at 2.50 is not 25.00'])
  })
  it('refuses what is no number, and says where', () => {
    const read = lines('Bolts\t8\t2.50\nNuts\tabc\t1.20')!
    expect(read[0]!.wrong).toEqual([])
    expect(read[1]!.wrong).toEqual(['quantity: “abc” is not a number'])
  })
  it('asks about a number that could be meant in two ways, and reads all of that kind as told', () => {
    const read = readPasted('Bolts\t8\t1.500\nNuts\t4\t2.50', known)!
    expect(pastedDoubt(read)).toEqual({ text: '1.500', plain: '1.500', other: '1500' })
    expect(pastedLines(read, known)[0]!.line.unitCost).toBe('1.500')
    const told = pastedLines({ ...read, thousands: true }, known).map((l) => l.line.unitCost)
    expect(told).toEqual(['1500', '2.50'])
    expect(pastedDoubt(readPasted('Bolts\t8\t2.50', known)!)).toBeUndefined()
  })
  it('leaves plain text alone', () => expect(lines('just some words')).toBeUndefined())
})

describe('two versions of a paper', () => {
  const paper = (patch: Partial<Document>, line: Partial<Line> = {}): Document => ({
    kind: 'receipt',
    supplier: 'Northquay',
    date: '2026-11-16',
    number: '7',
    freight: '',
    tax: '',
    lines: [{ ...blankLine(), description: 'Bolts', quantity: '2', unit: 'ea', unitCost: '5.00', ...line }],
    ...patch,
  })
  it('are the same where only the way of writing differs', () => {
    expect(differences(paper({}), paper({ freight: '0.00', tax: '0' }))).toEqual([])
  })
  it('are told apart field by field and line by line', () => {
    const theirs = paper({ number: '8', lines: [...paper({}, { quantity: '3' }).lines!, ...paper({}).lines!] })
    expect(differences(paper({}), theirs)).toEqual([
      { what: 'their number', mine: '7', theirs: '8' },
      { what: 'line 1', mine: 'Bolts, 2 ea, at 5.00', theirs: 'Bolts, 3 ea, at 5.00' },
      { what: 'line 2', mine: '', theirs: 'Bolts, 2 ea, at 5.00' },
    ])
  })
  it('leaves lines out that nothing was typed into', () => {
    expect(differences(paper({ lines: [...paper({}).lines!, blankLine()] }), paper({}))).toEqual([])
  })
})

describe('the price list while typing', () => {
  const items = [
    {
      id: 1,
      code: 'BOLT',
      description: 'Drift bolt',
      category: 'material',
      unit: 'ea',
      active: true,
      unitCost: '6.85',
    },
    { id: 2, code: 'MILE', description: 'Miles', category: 'mileage', unit: 'mi', active: true, unitCost: '0.70' },
    { id: 3, code: 'OLD', description: 'Rope', category: 'material', unit: 'm', active: false },
  ]
  async function list() {
    vi.stubGlobal(
      'fetch',
      vi.fn(async () => Response.json(items)),
    )
    let made!: ReturnType<typeof usePriceList>
    const date = ref('2026-11-16')
    const app = createApp(defineComponent({ setup: () => ((made = usePriceList(() => date.value)), () => h('div')) }))
    app.use(VueQueryPlugin, { queryClient: new QueryClient() }).mount(document.createElement('div'))
    await until(() => expect(made.offered.value).toHaveLength(2))
    return made
  }
  it('takes an item by its code or its name, and leaves its cost to the list', async () => {
    const prices = await list()
    const line = { ...blankLine(), description: 'bolt', unitCost: '9', markup: '5' }
    prices.take(line)
    expect(line).toMatchObject({ itemId: 1, description: 'Drift bolt', unit: 'ea', unitCost: '', markup: '' })
    line.unitCost = '7.10'
    prices.take(line)
    expect(line.unitCost).toBe('7.10') // it is that item already
    line.description = 'Drift bolt, bent ones'
    prices.take(line)
    expect(line.itemId).toBe(1)
    line.description = 'Something else'
    prices.take(line)
    expect(line.itemId).toBeUndefined()
  })
  it('does not offer what is retired, and knows the only rate of its kind', async () => {
    const prices = await list()
    const line = { ...blankLine(), description: 'old' }
    prices.take(line)
    expect(line.itemId).toBeUndefined()
    expect(prices.only('mileage')?.code).toBe('MILE')
    expect(prices.only('equipment')).toBeUndefined()
  })
})

describe('a scan is sent', () => {
  const file = new File(['x'], 'a b.pdf')
  it('under its name', async () => {
    const call = vi
      .fn<(address: string, init: RequestInit) => Promise<Response>>()
      .mockResolvedValue(Response.json({ id: 4, name: 'a b.pdf' }))
    vi.stubGlobal('fetch', call)
    expect(await sendScan(7, file)).toMatchObject({ id: 4 })
    expect(call.mock.calls[0]![0]).toBe('/api/costs/7/attachments?name=a%20b.pdf')
  })
  it('and a refusal says why', async () => {
    vi.stubGlobal('fetch', async () =>
      Response.json({ detail: 'no', errors: [{ path: 'file', message: 'this file is empty' }] }, { status: 422 }),
    )
    await expect(sendScan(7, file)).rejects.toThrow('this file is empty')
    vi.stubGlobal('fetch', async () => Promise.reject(new TypeError('failed')))
    await expect(sendScan(7, file)).rejects.toThrow('no connection')
  })
})

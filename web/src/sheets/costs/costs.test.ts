import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createApp, defineComponent, h, ref } from 'vue'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { blankLine, differences, type Document, type Line } from './document'
import { pastedRows } from './pasted'
import { usePriceList } from './prices'
import { sendScan } from '@/parts/scans'

afterEach(() => vi.unstubAllGlobals())

describe('rows of a spreadsheet become lines', () => {
  it('reads what, quantity, unit and cost in the order they come in', () => {
    expect(pastedRows('Diesel\t540\tl\t1.33\r\nShackles\t6\t11.35')).toEqual([
      { description: 'Diesel', quantity: '540', unit: 'l', unitCost: '1.33' },
      { description: 'Shackles', quantity: '6', unit: '', unitCost: '11.35' },
    ])
  })
  it('reads one number as the cost', () => {
    expect(pastedRows('Crane hire\t1,250.50')).toEqual([
      { description: 'Crane hire', quantity: '1', unit: '', unitCost: '1250.50' },
    ])
  })
  it('reads figures as they are written elsewhere', () => {
    expect(pastedRows('Bolts\t-8\t1.250,50')[0]).toMatchObject({ quantity: '-8', unitCost: '1250.50' })
    expect(pastedRows('Bolts\t1 000\t6,85')[0]).toMatchObject({ quantity: '1000', unitCost: '6.85' })
  })
  it('leaves headings and plain text alone', () => {
    expect(pastedRows('What\tHow many\nBolts\t5\t1')).toHaveLength(1)
    expect(pastedRows('just some words')).toEqual([])
  })
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
    await vi.waitFor(() => expect(made.offered.value).toHaveLength(2))
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

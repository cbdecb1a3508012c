import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { h, nextTick, reactive, ref, type Component } from 'vue'
import { bookThat, mounted, until } from '@/testing/app'
import Await from './Await.vue'
import DateField from './DateField.vue'
import EntryCell from './EntryCell.vue'
import EntryGrid from './EntryGrid.vue'
import FigureInput from './FigureInput.vue'
import FormRows from './FormRows.vue'
import FormField from './FormField.vue'
import Ledger from './Ledger.vue'
import PaperInvoice from './PaperInvoice.vue'
import SureButton from './SureButton.vue'
import type { CellAt, GridColumn } from './entryGrid'
import { exportedRows, type Column } from './ledger'

beforeEach(() => {
  localStorage.clear()
  bookThat({})
})
afterEach(() => vi.unstubAllGlobals())

interface Invoice {
  id: number
  customer: string
  due: string
  amount: string
}
const invoices: Invoice[] = [
  { id: 1, customer: 'Port of Sable Bar', due: '2026-12-17', amount: '10914.00' },
  { id: 2, customer: 'E. Quill', due: '2026-11-19', amount: '-98.50' },
  { id: 3, customer: 'Gannet Point Ferries', due: '2026-12-01', amount: '21577.50' },
]
const columns: Column<Invoice>[] = [
  { id: 'customer', label: 'Customer', value: (i) => i.customer },
  { id: 'due', label: 'Due', kind: 'date', width: 96, value: (i) => i.due },
  { id: 'amount', label: 'Amount', kind: 'money', width: 60, value: (i) => i.amount, total: true },
]
const props = (more: object = {}) => ({
  name: 'invoices',
  label: 'Invoices',
  of: 'invoice',
  columns,
  rows: invoices,
  rowKey: (i: Invoice) => i.id,
  ...more,
})
const ledger = (more: object = {}, slots = {}) => mounted(Ledger as Component, props(more), slots)
const names = (box: Element) =>
  [...box.querySelectorAll('tr[data-row] td:first-child')].map((td) => td.textContent?.trim())
const foot = (box: Element) => [...box.querySelectorAll('tfoot th')].map((th) => th.textContent?.trim())
const write = async (field: HTMLInputElement, text: string) => {
  field.value = text
  field.dispatchEvent(new Event('input'))
  await nextTick()
}

describe('a ledger', () => {
  it('is sorted by a head, figures as figures, and back again', async () => {
    const box = await ledger()
    const amount = box.querySelectorAll<HTMLButtonElement>('.sorts')[2]!
    amount.click()
    await nextTick()
    expect(names(box)).toEqual(['E. Quill', 'Port of Sable Bar', 'Gannet Point Ferries'])
    expect(box.querySelectorAll('th')[2]!.getAttribute('aria-sort')).toBe('ascending')
    amount.click()
    await nextTick()
    expect(names(box)[0]).toBe('Gannet Point Ferries')
  })
  it('foots what is seen: the totals follow the filter, to the cent', async () => {
    const box = await ledger()
    expect(foot(box)).toEqual(['Total', '', '32,393.00'])
    await write(box.querySelector('input[type=search]')!, 'quill')
    expect(names(box)).toEqual(['E. Quill'])
    expect(foot(box)).toEqual(['Total of what is shown', '', '−98.50'])
  })
  it('never cuts money: its column is as wide as the longest figure', async () => {
    const box = await ledger({ rows: [{ ...invoices[0]!, amount: '7617734.23' }] })
    const width = 16 * Number(/width: ([\d.]+)rem/.exec(box.querySelectorAll('col')[2]!.getAttribute('style')!)![1])
    expect(width).toBeGreaterThan('7,617,734.23'.length * 7)
  })
  it('exports its columns and all of its rows, also those that are not drawn', async () => {
    const many = Array.from({ length: 500 }, (_, id) => ({ ...invoices[0]!, id }))
    const box = await ledger({ rows: many })
    expect(box.querySelectorAll('tr[data-row]').length).toBeLessThan(200)
    const rows = exportedRows(box.querySelector('table')!)!
    expect(rows).toHaveLength(502)
    expect(rows[1]).toEqual(['Port of Sable Bar', '2026-12-17', '10914.00'])
    expect(rows.at(-1)).toEqual(['Total', '', '5457000.00'])
  })
  it('is gone through with arrows, opened with Enter and chosen with x', async () => {
    const [open, choose] = [vi.fn(), vi.fn()]
    const box = await ledger({ opens: true, chooses: true, chosen: [], onOpen: open, 'onUpdate:chosen': choose })
    const row = (id: number) => box.querySelector<HTMLElement>(`tr[data-row="${id}"]`)!
    row(1).focus()
    row(1).dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown' }))
    await until(() => expect(document.activeElement).toBe(row(2)))
    row(2).dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }))
    row(2).dispatchEvent(new KeyboardEvent('keydown', { key: 'x' }))
    expect(open).toHaveBeenCalledWith(invoices[1])
    expect(choose).toHaveBeenCalledWith([2])
  })
  it('has the sums of each group at its head', async () => {
    const box = await ledger({ groupBy: (i: Invoice) => (i.due < '2026-12-01' ? 'Overdue' : 'Due') })
    const groups = [...box.querySelectorAll('tr.group')].map((tr) => tr.textContent?.replace(/\s+/g, ' ').trim())
    expect(groups).toEqual(['Due32,491.50', 'Overdue−98.50'])
  })
})

describe('what is waited for', () => {
  const asked = (state: object) => ({
    data: ref(),
    error: ref(null),
    isFetching: ref(false),
    refetch: vi.fn(),
    ...state,
  })
  const shown = async (of: object) =>
    mounted(Await as Component, { of, what: 'the jobs' }, { default: () => h('i', 'list') })
  it('is opening, there, or failed: never an empty list', async () => {
    expect((await shown(asked({}))).textContent).toContain('Opening the jobs')
    expect((await shown(asked({ data: ref([]) }))).textContent).toBe('list')
    const failed = await shown(asked({ error: ref(new Error('the book did not answer')) }))
    expect(failed.textContent).toContain('Could not open the jobs.')
    expect(failed.textContent).not.toContain('list')
  })
  it('stays where it was there before, says that it may be old, and can be tried again', async () => {
    const of = asked({ data: ref([1]), error: ref(new Error('the book did not answer')) })
    const box = await shown(of)
    expect(box.textContent).toMatch(/may be out of date.*list/s)
    box.querySelector('button')!.click()
    expect(of.refetch).toHaveBeenCalled()
  })
})

describe('an invoice', () => {
  it('has a head and a sum a job where it is over several, as it is printed', async () => {
    const part = (job: string, kind: string, amount: string) => ({
      job,
      kind,
      amount,
      title: `${job}, ${kind}`,
      lines: [],
    })
    const box = await mounted(PaperInvoice as Component, {
      invoice: {
        status: 'issued',
        number: '2622',
        date: '2026-11-24',
        due: '2026-12-24',
        orderNumber: 'CR-1',
        places: [
          {
            job: '1195 Finger docks',
            site: 'North basin',
            orderNumber: 'CR-1',
            from: '2026-11-09',
            through: '2026-11-22',
            amount: '30.00',
          },
          { job: '1193 Survey', orderNumber: 'CR-2', from: '2026-11-16', through: '2026-11-16', amount: '5.00' },
        ],
        sections: [
          part('1195 Finger docks', 'Labour', '10.00'),
          part('1195 Finger docks', 'Material', '20.00'),
          part('1193 Survey', 'Labour', '5.00'),
        ],
        total: '35.00',
        hasRetainage: true,
        retainage: '3.50',
      },
    })
    const rows = [...box.querySelectorAll('tbody:not(.totals) tr')].map((r) =>
      [...r.children].map((c) => c.textContent?.replace(/\s+/g, ' ').trim()).join(' | '),
    )
    expect(rows).toEqual([
      '1195 Finger docks North basin · Nov 9 to Nov 22, 2026',
      'Labour | 10.00',
      'Material | 20.00',
      '1195 Finger docks | 30.00',
      '1193 Survey your order CR-2 · Nov 16, 2026',
      'Labour | 5.00',
      '1193 Survey | 5.00',
    ])
    expect(box.querySelector('[data-total="total"]')?.textContent).toBe('35.00')
  })
})

describe('fields', () => {
  it('show a figure as it is read, and give the book its decimal', async () => {
    const model = reactive({ value: '1250.5' })
    const box = await mounted(FigureInput as Component, {
      modelValue: model.value,
      'onUpdate:modelValue': (to: string) => (model.value = to),
    })
    const field = box.querySelector('input')!
    expect(field.value).toBe('1,250.5')
    await write(field, '$1,300.25')
    expect(model.value).toBe('1300.25')
    await write(field, 'abc')
    expect(model.value).toBe('abc') // the book says what is wrong with it
  })
  it('ask about a number that could be meant in two ways, and take what is answered', async () => {
    const rows = reactive([{ amount: '' }, { amount: '' }])
    const box = await mounted(FormRows as Component, {
      label: 'Lines',
      name: 'lines',
      fields: [{ id: 'amount', label: 'Amount', kind: 'figure' }],
      blank: () => ({ amount: '' }),
      wrong: {},
      modelValue: rows,
    })
    await write(box.querySelectorAll('input')[1]!, '1.500')
    expect(rows[1]!.amount).toBe('1.500')
    const other = [...box.querySelectorAll('button')].find((b) => b.textContent === 'Or is 1,500 meant?')!
    other.click()
    await until(() => expect(box.textContent).not.toContain('meant?'))
    expect(rows.map((r) => r.amount)).toEqual(['', '1500'])
    await write(box.querySelectorAll('input')[0]!, '2.500')
    expect(box.textContent).toContain('Or is 2,500 meant?')
    rows[0]!.amount = '' // as a form is blank again once it was sent
    await until(() => expect(box.textContent).not.toContain('meant?'))
  })
  it('take a date as people write it, or from the calendar', async () => {
    const given: string[] = []
    const box = await mounted(DateField as Component, {
      modelValue: '2026-11-18',
      'onUpdate:modelValue': (to: string) => given.push(to),
    })
    const field = box.querySelector('input')!
    expect(field.value).toBe('Nov 18, 2026')
    await write(field, '11/20/2026')
    expect(given.at(-1)).toBe('2026-11-20')
    box.querySelector<HTMLButtonElement>('[aria-label="Calendar"]')!.click()
    await until(() => expect(document.activeElement?.getAttribute('data-date')).toBe('2026-11-18'))
    document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true }))
    await until(() => expect(document.activeElement?.getAttribute('data-date')).toBe('2026-11-25'))
    ;(document.activeElement as HTMLButtonElement).click()
    expect(given.at(-1)).toBe('2026-11-25')
  })
  it('ask in place before what can not be undone', async () => {
    const sure = vi.fn()
    const box = await mounted(SureButton as Component, { label: 'Drop draft', sure: 'It is gone.', onSure: sure })
    box.querySelector('button')!.click()
    await nextTick()
    expect(sure).not.toHaveBeenCalled()
    expect(box.textContent).toContain('It is gone.')
    box.querySelector('button')!.click()
    expect(sure).toHaveBeenCalledOnce()
  })
})

describe('an entry grid', () => {
  interface Line {
    worker: string
    day: string
    cost: string
  }
  const days: GridColumn<Line>[] = [
    { id: 'worker', label: 'Worker', value: (l) => l.worker, same: (a, b) => a.worker === b.worker, sum: '2 lines' },
    { id: 'mon', label: 'Mon', typed: true, sum: '12' },
    { id: 'cost', label: 'Cost', kind: 'figure', width: 40, value: (l) => l.cost, sum: '1250.50' },
    { id: 'trail', label: 'Trail', kind: 'mark' },
  ]
  const lines: Line[] = [
    { worker: 'Ada', day: '8', cost: '-1250.50' },
    { worker: 'Ada', day: '4', cost: '2501.00' },
  ]
  const grid = (rows: Line[], more: object = {}) =>
    mounted(
      EntryGrid as Component,
      { label: 'Crew sheet', columns: days, rows, rowKey: (l: Line) => l.day, text: (l: Line) => l.day, ...more },
      {
        entry: ({ row, cell }: { row: Line; cell: CellAt }) => h(EntryCell, { cell, label: 'hours', text: row.day }),
        wrong: ({ row }: { row: Line }) => `${row.day} is too much`,
      },
    )

  it('says the same once, to who sees it, and gives all of it to a spreadsheet, with the sums', async () => {
    const box = await grid(lines)
    const workers = [...box.querySelectorAll('tbody td:first-child')]
    expect(workers.map((td) => !!td.querySelector('.sr'))).toEqual([false, true])
    expect(exportedRows(box.querySelector('table')!)).toEqual([
      ['Worker', 'Mon', 'Cost'],
      ['Ada', '8', '-1250.50'],
      ['Ada', '4', '2501.00'],
      ['2 lines', '12', '1250.50'],
    ])
  })
  it('takes what is typed, and says what is wrong with a row under it', async () => {
    const set = vi.fn()
    const box = await grid(lines, { onSet: set, wrong: (l: Line) => l.day === '8' })
    expect(box.querySelector('[data-line="0"] + tr .error-line')?.textContent).toBe('8 is too much')
    const cell = box.querySelector<HTMLElement>('[data-line="1"] td[data-day]')!
    cell.dispatchEvent(new MouseEvent('mousedown', { bubbles: true, button: 0, detail: 2 }))
    await nextTick()
    const field = box.querySelector<HTMLInputElement>('[data-line="1"] input')!
    field.value = ' 7.5 '
    field.dispatchEvent(new Event('input', { bubbles: true }))
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }))
    expect(set).toHaveBeenCalledWith([{ row: lines[1], column: 'mon', text: '7.5' }], 'typed')
  })
  it('draws of many rows those in sight, with room for the others', async () => {
    const box = await grid(Array.from({ length: 455 }, (_, i) => ({ worker: `W${i}`, day: String(i), cost: '1' })))
    expect(box.querySelectorAll('[data-line]').length).toBeLessThan(60)
    expect(exportedRows(box.querySelector('table')!)).toHaveLength(457)
  })
})

it('asks what is meant by a number that reads another way elsewhere', async () => {
  const model = reactive({ value: '' })
  const box = await mounted({
    setup: () => () =>
      h(FormField, {
        label: 'Wage',
        kind: 'money',
        modelValue: model.value,
        'onUpdate:modelValue': (to?: string | boolean) => (model.value = String(to)),
      }),
  })
  await write(box.querySelector('input')!, '1.500')
  expect(model.value).toBe('1.500')
  box.querySelector<HTMLButtonElement>('.lnk')!.click()
  await nextTick()
  expect([model.value, box.querySelector('input')!.value, box.querySelector('.lnk')]).toEqual(['1500', '1,500', null])
})

it('leaves the rows of a group where they are, with the focus in them, when the group above goes', async () => {
  const rows = ref(invoices)
  const box = await mounted({
    setup: () => () =>
      h(Ledger as Component, props({ rows: rows.value, groupBy: (i: Invoice) => i.customer, opens: true })),
  })
  const moved = vi.fn()
  const parent = box.querySelector('tbody')!
  const insert = parent.insertBefore.bind(parent)
  parent.insertBefore = (node, before) => {
    if (node instanceof HTMLElement && node.dataset.row) moved(node.dataset.row)
    return insert(node, before)
  }
  rows.value = invoices.slice(1)
  await nextTick()
  expect(names(box)).toEqual(['E. Quill', 'Gannet Point Ferries'])
  expect(moved).not.toHaveBeenCalled()
})

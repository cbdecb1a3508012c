import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import type { Schema } from '@/api/client'
import { bookThat, mounted, refusal, until } from '@/testing/app'
import DraftSources from './DraftSources.vue'
import { againstOf, partOf, rowsOf, told } from './parts'

beforeEach(() => localStorage.clear())
afterEach(() => vi.unstubAllGlobals())

const source = { detail: '', date: '2026-11-06', quantity: '8 h', category: 'labour', way: 'rest' }
const invoice = {
  id: 7,
  version: 3,
  status: 'draft',
  sources: [
    { ...source, kind: 'time_entry', id: 1, text: 'Aldo', amount: '832.00', toBill: '832.00' },
    {
      ...source,
      kind: 'time_entry',
      id: 2,
      text: 'Bess',
      amount: '0.00',
      toBill: '864.00',
      way: 'amount',
      value: '0.00',
      down: '864.00',
      allDown: true,
      reason: 'done again',
    },
    {
      ...source,
      kind: 'cost_line',
      id: 2,
      text: 'Sheets',
      category: 'material',
      amount: '40.00',
      toBill: '100.00',
      later: '60.00',
      way: 'quantity',
      value: '4',
    },
  ],
  offered: [
    { ...source, kind: 'time_entry', id: 9, text: 'Cato', amount: '720.00', held: true, note: 'is it in the price?' },
    { ...source, kind: 'time_entry', id: 10, text: 'Dina', amount: '720.00', held: false },
  ],
} as unknown as Schema['InvoiceView']

describe('the work on a draft', () => {
  it('says how each is billed, and can be set as it was', () => {
    const rows = rowsOf(invoice)
    expect(rows.map(told)).toEqual([
      '',
      'written off: done again',
      'a part, the rest waits',
      'held: is it in the price?',
      'not on this draft',
    ])
    expect(rows.map(partOf)).toEqual([
      { kind: 'time_entry', id: 1, way: 'rest', value: '', rest: 'later', down: '', reason: '' },
      { kind: 'time_entry', id: 2, way: 'amount', value: '0.00', rest: 'down', down: '', reason: 'done again' },
      { kind: 'cost_line', id: 2, way: 'quantity', value: '4', rest: 'later', down: '', reason: '' },
      { kind: 'time_entry', id: 9, way: 'hold', reason: 'is it in the price?' },
      { kind: 'time_entry', id: 10, way: 'none' },
    ])
    expect(new Set(rows.map((r) => r.key)).size, 'an entry and a line of one id are two').toBe(5)
  })
  it('sends what is typed on the version that is seen, and says what is wrong beside it', async () => {
    const calls = bookThat({
      'PUT /api/invoices/7/parts': refusal(422, 'look again', { 'parts[0].value': 'only 8 h of it are left' }),
    })
    const box = await mounted(DraftSources, { invoice, others: [] })
    const row = [...box.querySelectorAll('tr[data-row]')].find((r) => r.textContent!.includes('Aldo'))!
    row.querySelector<HTMLElement>('button.lnk')!.click()
    await nextTick()
    const form = box.querySelector<HTMLFormElement>('form[aria-label="Bill Aldo"]')!
    const way = form.querySelector<HTMLSelectElement>('select')!
    way.value = 'hours'
    way.dispatchEvent(new Event('change'))
    await nextTick()
    const hours = [...form.querySelectorAll('label')].find((l) => l.textContent === 'Hours')!
      .control as HTMLInputElement
    hours.value = '11'
    hours.dispatchEvent(new Event('input'))
    form.dispatchEvent(new Event('submit', { cancelable: true }))
    await until(() => expect(form.textContent).toContain('nly 8 h of it are left'))
    expect(calls.find((c) => c.what.startsWith('PUT'))!.body).toEqual({
      version: 3,
      parts: [{ kind: 'time_entry', id: 1, way: 'hours', value: '11', rest: 'later', reason: '' }],
    })
  })
})

describe('a payment over open invoices', () => {
  const open = [{ id: 7, proposed: '100.00' }, { id: 8, proposed: '20.00' }, { id: 9 }] as Schema['OpenInvoice'][]
  it('is set against the oldest first where nothing is typed', () => expect(againstOf(open, {})).toBeUndefined())
  it('is set as typed, and as proposed beside that', () =>
    expect(againstOf(open, { 8: '', 9: '5' })).toEqual([
      { invoiceId: 7, amount: '100.00' },
      { invoiceId: 9, amount: '5' },
    ]))
})

import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import type { Schema } from '@/api/client'
import { bookThat, mounted, refusal, until } from '@/testing/app'
import CreditNote from './CreditNote.vue'
import { allOf, withLine, type Creditable, type Line } from './credit'

beforeEach(() => localStorage.clear())
afterEach(() => vi.unstubAllGlobals())

const rows = [
  { kind: 'source', id: 1, line: 'diver', text: 'Moss', date: '2026-11-06', amount: '1208.00', left: '1208.00' },
  { kind: 'line', id: 4, line: 'Berth', text: 'Berth', date: '2026-11-23', amount: '450.00', left: '0.00' },
] as Creditable[]

describe('the lines of a credit note', () => {
  it('are all that is left of the invoice', () => {
    expect(allOf(rows, 'again', 'agreed')).toEqual([
      { kind: 'source', id: 1, amount: '', becomes: 'again', reason: 'agreed' },
    ])
  })
  it('hold each line once, and none that was taken out', () => {
    const line: Line = { kind: 'source', id: 1, amount: '5', becomes: 'allowed' }
    const two = withLine([line], { kind: 'line', id: 1 }, { ...line, kind: 'line' })
    expect(two).toHaveLength(2)
    expect(withLine(two, line, { ...line, amount: '7' }).map((l) => l.amount)).toEqual(['5', '7'])
    expect(withLine(two, line)).toEqual([{ ...line, kind: 'line' }])
  })
})

describe('a credit note that is made', () => {
  const invoice = { id: 9, number: '2623', date: '2026-11-20', balance: '1208.00' } as Schema['InvoiceView']
  it('is tried before a line is taken, and what is wrong stands beside it', async () => {
    const acts = document.createElement('div')
    acts.id = 'bill-acts'
    document.body.append(acts)
    const calls = bookThat({
      'GET /api/invoices/9/credit': rows,
      'POST /api/invoices/9/credit': refusal(422, 'look again', {
        'lines[0].amount': '1208.00 of it is left to credit',
      }),
    })
    const box = await mounted(CreditNote, { invoice, today: '2026-11-27' })
    await until(() => expect(box.textContent).toContain('Moss'))
    expect(box.textContent).toContain('Choose what is credited of 2 lines')
    expect(box.textContent, 'what is wholly credited is not offered').toContain('credited')
    box.querySelector<HTMLElement>('tr[data-row] button.lnk')!.click()
    await nextTick()
    const form = box.querySelector<HTMLFormElement>('form[aria-label="Credit Moss"]')!
    const amount = [...form.querySelectorAll('label')].find((l) => l.textContent === 'Amount')!
      .control as HTMLInputElement
    amount.value = '2000'
    amount.dispatchEvent(new Event('input'))
    form.dispatchEvent(new Event('submit', { cancelable: true }))
    await until(() => expect(form.textContent).toContain('of it is left to credit'))
    expect(calls.find((c) => c.what.startsWith('POST'))!.body).toMatchObject({
      date: '2026-11-27',
      lines: [{ kind: 'source', id: 1, amount: '2000', becomes: 'again' }],
    })
    acts.remove()
  })
})

import { describe, expect, it } from 'vitest'
import { base64, pays, pieces, sureOf, takenAs } from './bank'

const slip = { id: 3, date: '2026-04-01', amount: '50.00', why: 'the name', sure: false }

describe('receipts in the bank', () => {
  it('says whose it is and what it pays', () => {
    expect(pays(slip)).toBe('')
    expect(pays({ ...slip, customer: 'Heron' })).toBe('Heron')
    expect(pays({ ...slip, customer: 'Heron', numbers: ['1001', '1002'] })).toBe('Heron: 1001, 1002')
    expect(pays({ ...slip, customer: 'Heron', numbers: ['1001'], stays: '9.00' })).toBe('Heron: 1001, in part')
    expect(pays({ ...slip, customer: 'Heron', numbers: ['1001'], over: '9.00' })).toBe('Heron: 1001, and credit')
  })
  it('marks the words that gave it away', () => {
    expect(pieces('your invoice 2614, thanks', ['2614'])).toEqual([
      { text: 'your invoice ', gave: false },
      { text: '2614', gave: true },
      { text: ', thanks', gave: false },
    ])
    expect(pieces('26140 R-12', ['2614', 'R-12']).filter((p) => p.gave)).toEqual([{ text: 'R-12', gave: true }])
    expect(pieces('on account')).toEqual([{ text: 'on account', gave: false }])
  })
  it('records what is sure as it is proposed', () => {
    const sure = { ...slip, sure: true, customerId: 7, on: [{ invoiceId: 1, amount: '50.00' }] }
    const none = { lines: 2, in: '', out: '', open: '', recorded: '', aside: '', sureSum: '', sure: 1, setAside: [] }
    expect(sureOf({ ...none, slips: [slip, sure] }).map(takenAs)).toEqual([
      { id: 3, customerId: 7, on: sure.on, paymentId: undefined },
    ])
    expect(sureOf(undefined)).toEqual([])
  })
  it('sends a file of any bytes', async () => {
    expect(await base64(new Blob([new Uint8Array([0xef, 0xbb, 0xbf, 65, 0])]))).toBe('77u/QQA=')
  })
})

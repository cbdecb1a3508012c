import { describe, expect, it } from 'vitest'
import { bars, shares } from './account'

describe('the account of a customer', () => {
  it('draws ages, what is retained and credit on one scale', () => {
    const ages = ['100.00', '50.00', '0.00', '0.00', '0.00'].map((amount, i) => ({ label: String(i), amount }))
    const none = { owed: '', total: '', waiting: '', ready: '', onDrafts: '', year: '', yearTax: '', income: [] }
    const drawn = shares({ ...none, ages, retained: '200.00', credit: '0.00' })
    expect(drawn.map((a) => a.share)).toEqual([0.5, 0.25, 0, 0, 0, 1, 0])
    expect(drawn.map((a) => a.kind)).toEqual(['due', 'late', '', '', '', 'retained', ''])
  })
  it('draws months as bars, also one that was credited', () => {
    const drawn = bars([
      { month: '2026-10', billed: '-2000.00' },
      { month: '2026-11', billed: '32000.00', drafted: '32000.00' },
    ])
    expect(drawn.map((m) => [m.tall, m.drafted, m.short])).toEqual([
      [0, 0, '-2'],
      [32, 32, '32'],
    ])
  })
})

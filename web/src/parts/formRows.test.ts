import { expect, it } from 'vitest'
import { fillRows, type RowField } from './formRows'

it('takes a block of a spreadsheet from where it is pasted on, and adds rows as far as it goes', () => {
  type Row = { text: string; phase: string; amount: string; due: string }
  const fields: RowField<Row>[] = [
    { id: 'text', label: 'Line' },
    { id: 'phase', label: 'Phase', kind: 'choice', options: [['A', 'Piles']] },
    { id: 'amount', label: 'Amount', kind: 'figure' },
    { id: 'due', label: 'Due', kind: 'date' },
  ]
  const blank = () => ({ text: '', phase: '', amount: '', due: '' })
  const rows = [{ ...blank(), text: 'kept' }, blank()]
  const block = [
    ['Piles driven', 'piles', '12,500.00', '2026-12-01', 'beyond the last column'],
    ['Caps', '', 'twelve'],
  ]
  fillRows(rows, fields, { row: 1, field: 0 }, block, blank, '2026-11-25')
  expect(rows).toEqual([
    { ...blank(), text: 'kept' },
    { text: 'Piles driven', phase: 'A', amount: '12500.00', due: '2026-12-01' },
    { text: 'Caps', phase: '', amount: 'twelve', due: '' },
  ])
})

import { local } from '@/book/english'
import type { Schema } from '@/api/client'
import { billedNames, percent } from '@/parts/figures'

export type Part = Schema['PartOf']
export type Typed = Schema['TypedLine']
/** The kinds of what can be typed on a draft. */
export const typedKinds = ['labour', 'material', 'equipment', 'subcontract', 'expense', 'mileage', 'other'] as const
type Source = NonNullable<Schema['InvoiceView']['sources']>[number]

/** Work that is on a draft or could be, or what was typed on it. */
export interface DraftRow extends Source {
  key: string
  /** Which of what is typed it is; work is none of it. */
  typed?: number
  on: boolean
  held: boolean
  note: string
}

/** All work of a draft's jobs: what is on it, and what else is ready to bill. */
export function rowsOf(invoice: Schema['InvoiceView']): DraftRow[] {
  const key = (s: Source) => `${s.kind} ${s.id}`
  return [
    ...(invoice.sources ?? []).map((s) => ({ ...s, key: key(s), on: true, held: false, note: s.reason ?? '' })),
    ...(invoice.offered ?? []).map((s) => ({
      ...s,
      key: key(s),
      on: false,
      held: s.held,
      note: s.note ?? '',
      toBill: s.amount,
      later: s.amount,
      amount: '',
    })),
    ...(invoice.typed ?? []).map((t, i) => ({
      key: `typed ${i}`,
      typed: i,
      kind: 'time_entry' as const,
      id: 0,
      category: t.kind === 'discount' || t.kind === 'deposit' ? t.kind : t.category || '',
      text: t.text,
      detail: [t.job, percent(t.percent), t.kind === 'discount' && billedNames[t.category ?? '']]
        .filter(Boolean)
        .join(' · '),
      date: '',
      quantity: [t.quantity, t.unit].filter(Boolean).join(' '),
      toBill: t.total ?? '',
      amount: t.total ?? '',
      way: 'rest',
      on: true,
      held: false,
      note: '',
    })),
  ]
}

/** What sets a row as it is now: to take a change of it back. */
export function partOf(row: DraftRow): Part {
  const of = { kind: row.kind, id: row.id }
  if (!row.on) return row.held ? { ...of, way: 'hold', reason: row.note } : { ...of, way: 'none' }
  return {
    ...of,
    way: row.way === 'fit' ? 'rest' : (row.way as Part['way']),
    value: row.value ?? '',
    rest: row.down ? 'down' : 'later',
    down: row.allDown ? '' : (row.down ?? ''),
    reason: row.reason ?? '',
  }
}

/** How a row is billed, in words, where it is not simply all of it. */
export function told(row: DraftRow): string {
  if (row.held) return row.note ? `held: ${row.note}` : 'held for later'
  if (!row.on) return 'not on this draft'
  const why = row.reason ? `: ${row.reason}` : ''
  if (row.down) return `${Number(row.amount) ? 'the rest written down' : 'written off'}${why}`
  if (row.up) return `written up${why}`
  if (row.later) return 'a part, the rest waits'
  return row.way === 'rest' ? '' : 'a part'
}

/** How payments come, for a start. */
export const paymentMethods = () => ['transfer', local('cheque'), 'card', 'cash']

/**
 * What a payment is set against, where amounts were typed for some of the open invoices; the others are as proposed.
 * Nothing where none was: the oldest first.
 */
export function againstOf(
  open: Schema['OpenInvoice'][],
  typed: Record<number, string>,
): Schema['Against'][] | undefined {
  if (!Object.keys(typed).length) return undefined
  return open.map((o) => ({ invoiceId: o.id, amount: typed[o.id] ?? o.proposed ?? '' })).filter((a) => a.amount)
}

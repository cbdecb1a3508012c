import type { Schema } from '@/api/client'

export type Creditable = Schema['Creditable']
export type Line = Schema['CreditLine']

export const keyOf = (of: { kind: string; id: number }) => `${of.kind} ${of.id}`

/** All that is left of an invoice, credited the same way. */
export const allOf = (rows: Creditable[], becomes: Line['becomes'], reason = ''): Line[] =>
  rows.filter((r) => Number(r.left)).map(({ kind, id }) => ({ kind, id, amount: '', becomes, reason }))

/** The lines of a note with one of them changed, or taken out where it is none. */
export function withLine(lines: Line[], of: { kind: string; id: number }, line?: Line): Line[] {
  const others = lines.filter((l) => keyOf(l) !== keyOf(of))
  return line ? [...others, line] : others
}

export const becomesNames: Record<Line['becomes'], string> = { again: 'bill again', allowed: 'allowed' }

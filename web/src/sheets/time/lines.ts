import type { Schema } from '@/api/client'
import type { Outgoing, Place } from '@/book/outbox'

export type Sheet = Schema['Sheet']
export type SheetLine = Schema['SheetLine']
export type Cell = Schema['Cell']

/** The terms of new lines: work by the rules, or leave, which is paid and not worked and billed to nobody. */
export function termsOf(leave: boolean): { billable: boolean; payClass: string } {
  return leave ? { billable: false, payClass: 'leave' } : { billable: true, payClass: 'auto' }
}

/** Tells the lines of a crew sheet apart, as the book does. */
export function keyOf(p: Place): string {
  const rate = p.rate || (p.ownRate ? 'own' : '')
  return [p.worker.id, p.job.id, p.phase?.id ?? 0, p.costCode?.id ?? 0, p.billable, p.payClass, rate].join('-')
}

export function cellKey(place: Place, date: string): string {
  return `${keyOf(place)}|${date}`
}

/** The place of a line, without its days. */
export function placeOf(l: SheetLine): Place {
  const { worker, job, phase, costCode, billable, payClass, rate, ownRate } = l
  return { worker, job, phase, costCode, billable, payClass, rate, ownRate }
}

export function emptyLine(place: Place, days: string[]): SheetLine {
  return {
    ...place,
    key: keyOf(place),
    cells: days.map((date) => ({ date, entries: 0, hours: '', text: '' })),
    hours: '',
    overtime: '',
    trail: { stage: 'captured', billable: place.billable, text: 'nothing captured yet' },
  }
}

/** The line of a place; an empty one where there is none yet. */
export function lineOn(lines: SheetLine[], place: Place, days: string[]): SheetLine {
  const key = keyOf(place)
  return lines.find((l) => l.key === key) ?? emptyLine(place, days)
}

export const cellOn = (line: SheetLine, date: string): Cell => line.cells!.find((c) => c.date === date)!

/** The lines of the book, with those that have no hours in it yet behind the other lines of their worker. */
export function allLines(sheet: Sheet | undefined, added: Place[], unsent: Outgoing[]): SheetLine[] {
  if (!sheet) return []
  const lines = [...(sheet.lines ?? [])]
  const known = new Set(lines.map((l) => l.key))
  const days = sheet.days ?? []
  for (const place of [...added, ...unsent.filter((i) => i.sheet.week === sheet.week).map((i) => i.place)]) {
    const key = keyOf(place)
    if (known.has(key)) continue
    known.add(key)
    const last = lines.findLastIndex((l) => l.worker.id === place.worker.id)
    lines.splice(last < 0 ? lines.length : last + 1, 0, emptyLine(place, days))
  }
  return lines
}

/** The entries that a line is made of; a day of several is changed in the list, and has none here. */
export const entriesOf = (l: SheetLine): number[] => l.cells!.flatMap((c) => c.entryId ?? [])

/** Whether a pasted block names workers and jobs, and is more than hours. */
export function namesLines(rows: string[][]): boolean {
  return rows.some((row) => row.filter((cell) => /[a-z]{3}/i.test(cell)).length >= 2)
}

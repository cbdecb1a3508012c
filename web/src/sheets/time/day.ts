import type { Place } from '@/book/outbox'
import type { CellState } from './crewSheet'
import { placeOf, type SheetLine } from './lines'

/** A place without its worker: a column of the day sheet. */
export type DayPlace = Omit<Place, 'worker'>

export function placeKey(p: DayPlace): string {
  return [p.job.id, p.phase?.id ?? 0, p.costCode?.id ?? 0, p.billable, p.payClass, p.rate ?? p.ownRate ?? ''].join('-')
}

/** The jobs of a day: those with hours in it, then those that were added; by job number. */
export function dayPlaces(
  lines: SheetLine[],
  day: number,
  added: DayPlace[],
  stateOf: (line: SheetLine, day: number) => CellState,
): DayPlace[] {
  if (day < 0) return []
  const places = new Map<string, DayPlace>()
  for (const line of lines)
    if (line.cells![day]!.entries || stateOf(line, day).text) {
      const place: Partial<Place> = placeOf(line)
      delete place.worker
      places.set(placeKey(place as DayPlace), place as DayPlace)
    }
  const sorted = [...places.values()].sort((a, b) =>
    `${a.job.code} ${a.costCode?.code ?? ''}`.localeCompare(`${b.job.code} ${b.costCode?.code ?? ''}`, undefined, {
      numeric: true,
    }),
  )
  return [...sorted, ...added.filter((p) => !places.has(placeKey(p)))]
}

/** Decimal hours as minutes, and minutes as decimal hours: blank for none. */
export const minutesOf = (hours?: string) => Math.round(Number(hours || 0) * 60)
export const hoursOf = (minutes: number) => (minutes ? String(Math.round((minutes / 60) * 100) / 100) : '')

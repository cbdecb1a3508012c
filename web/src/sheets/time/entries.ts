import { newKey, type Schema } from '@/api/client'
import { useOutbox, type CellEdit, type Place } from '@/book/outbox'
import { useUndo } from '@/book/undo'

export type EntryRow = Schema['EntryRow']

export const entryCell = (id: number) => `entry|${id}`

/** The text of an entry whose start, finish or break is typed on its own; undefined while one of them is missing. */
export function clockText(start: string, finish: string, pause: string): string | undefined {
  if (!start.trim() || !finish.trim()) return undefined
  const minutes = pause.trim()
  const rest = /^\d+$/.test(minutes)
    ? `${Math.floor(+minutes / 60)}:${String(+minutes % 60).padStart(2, '0')}`
    : minutes
  return `${start.trim()}-${finish.trim()}${rest && rest !== '0:00' ? `/${rest}` : ''}`
}

/** Changes of entries one by one, each a step that can be taken back. */
export function entryActs(sheet: () => { crew: string; job: string }) {
  const outbox = useOutbox()
  const undo = useUndo()
  const at = (date: string) => ({ week: date, ...sheet() })

  function placeOf(row: EntryRow): Place {
    const { worker, job, phase, costCode, billable, payClass, rate, ownRate } = row
    return { worker, job, phase, costCode, billable, payClass, rate, ownRate }
  }
  function editOf(p: Place, date: string, text: string): CellEdit {
    return {
      workerId: p.worker.id,
      jobId: p.job.id,
      phaseId: p.phase?.id,
      costCodeId: p.costCode?.id,
      billable: p.billable,
      payClass: p.payClass,
      date,
      text,
    }
  }

  /** Changes an entry's hours, note or billable mark; blank hours take it away. */
  function change(row: EntryRow, patch: { text?: string; note?: string; billable?: boolean }) {
    const place = placeOf(row)
    const cell = entryCell(row.id)
    const seen = { entryId: row.id, version: row.version }
    const put = (to: typeof patch) => {
      outbox.put(
        { sheet: at(row.date), cell, place },
        { ...editOf(place, row.date, row.text), note: row.note ?? '', ...seen, another: true },
        { ...to, ...(patch.text === '' && to.text ? { rate: place.rate || undefined } : {}) },
      )
      void outbox.send()
    }
    const before = { text: row.text, note: row.note ?? '', billable: row.billable }
    put(patch)
    undo.did({
      what: patch.text === '' ? `${row.worker.name}'s ${row.hours} h deleted` : `${row.worker.name}'s entry changed`,
      undo: () => void put({ ...before }),
      redo: () => void put(patch),
    })
  }

  /** Adds entries, also beside others of the same line and day. */
  function add(places: Place[], date: string, text: string) {
    for (const place of places)
      outbox.put(
        { sheet: at(date), cell: `new|${newKey()}`, place },
        { ...editOf(place, date, text), another: true },
        {},
      )
    void outbox.send()
  }
  return { change, add }
}

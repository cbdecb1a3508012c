import type { Schema } from '@/api/client'
import { answered, client } from '@/api/client'
import { addDays, counted, figure } from '@/parts/figures'
import type { Place, SavedCell } from '@/book/outbox'
import type { CellState, Change, CrewSheet } from './crewSheet'
import type { How } from '@/parts/entryGrid'
import { keyOf, placeOf, type SheetLine } from './lines'

/** A question to be settled before anything is done. */
export interface Asks {
  asks: string
}

/** What is done to many cells of a crew sheet at once, each as one step that can be taken back. */
export function crewActs(sheet: CrewSheet, choices: () => Schema['Choices'] | undefined) {
  const lines = () => sheet.lines.value
  const to = (from: CellState, text: string, place = from.place): CellState => ({ place, text, note: from.note })
  const name = (line: SheetLine) => line.worker.name

  /** The change of a cell to a text; nothing where it is locked or stays as it is. */
  function toText(line: SheetLine, day: number, text: string): Change[] {
    const cell = line.cells![day]!
    const from = sheet.stateOf(line, day)
    if (cell.locked || from.text === text) return []
    return [{ date: cell.date, from, to: to(from, text) }]
  }
  function type(line: SheetLine, day: number, text: string, seen?: SavedCell) {
    const changes = toText(line, day, text.trim()).map((c) => ({ ...c, seen }))
    sheet.change(changes, `${text.trim() || 'nothing'} for ${name(line)}`)
  }
  /** Texts of many cells, as one step. */
  function set(cells: { line: SheetLine; day: number; text: string }[], how: How) {
    const changes = cells.flatMap((c) => toText(c.line, c.day, c.text))
    sheet.change(changes, `${counted(changes.length, 'cell')} ${how}`)
  }

  /** Books a line, all of its days that can still be changed, elsewhere or on other terms. */
  function move(line: SheetLine, patch: Partial<Place>, what: string) {
    const place = { ...placeOf(line), ...patch }
    const days = line
      .cells!.map((_, day) => day)
      .filter((day) => line.cells![day]!.entryId && !line.cells![day]!.locked)
    if (!line.hours) {
      sheet.dropLine(line.key)
      sheet.addLines([place])
    }
    sheet.change(
      days.map((day) => {
        const from = sheet.stateOf(line, day)
        return { date: line.cells![day]!.date, from, to: to(from, from.text, place) }
      }),
      what,
    )
    return keyOf(place)
  }
  function billable(line: SheetLine, value: boolean) {
    return move(line, { billable: value }, `${name(line)} ${value ? 'billable' : 'not billable'}`)
  }

  /** This line's hours for everybody of the crew who has none on those days. */
  function crewFill(line: SheetLine): string {
    const members = (sheet.sheet.value?.members ?? []).filter((m) => m.id !== line.worker.id)
    const changes: Change[] = []
    const kept = new Set<string>()
    const filled = new Set<number>()
    const places: Place[] = []
    for (const worker of members) {
      const own = lines().filter((l) => l.worker.id === worker.id)
      const place = { ...placeOf(line), worker, rate: undefined, ownRate: undefined }
      line.cells!.forEach((cell, day) => {
        const { text } = sheet.stateOf(line, day)
        if (!text) return
        if (own.some((l) => sheet.stateOf(l, day).text || l.cells![day]!.entries)) {
          kept.add(worker.name)
          return
        }
        filled.add(worker.id)
        changes.push({ date: cell.date, from: { place, text: '' }, to: { place, text } })
      })
      if (filled.has(worker.id) && !own.some((l) => l.key === keyOf(place))) places.push(place)
    }
    if (!changes.length)
      return members.length ? 'Everybody has hours on these days already' : 'There is nobody else in this crew'
    sheet.change(changes, `crew fill from ${name(line)}`, places)
    const keeps = kept.size
      ? `; ${[...kept].slice(0, 3).join(', ')} ${kept.size === 1 ? 'keeps' : 'keep'} what is there`
      : ''
    return `Filled ${filled.size} of ${members.length}${keeps}`
  }

  /** Who has hours on a day of this week, on any line. */
  const hasHours = (worker: number, day: number) =>
    lines().some((l) => l.worker.id === worker && (l.cells![day]!.entries || sheet.stateOf(l, day).text))

  /**
   * The lines of the week before, with their hours or without, for one worker or all of the sheet. Where there are hours
   * already it asks first: on top of them, or only where there are none.
   */
  async function repeat(hours: boolean, worker?: number, onto?: 'all' | 'empty'): Promise<string | Asks> {
    const { week, crew, job } = sheet.query.value
    const before = await answered(
      client.GET('/api/time/sheet', { params: { query: { week: addDays(week, -7), crew, job } } }),
    )
    const members = new Set((sheet.sheet.value?.members ?? []).map((m) => m.id))
    const closed = new Set((choices()?.jobs ?? []).filter((j) => j.status === 'closed').map((j) => j.id))
    const from = (before.lines ?? []).filter((l) => !worker || l.worker.id === worker)
    const usable = from.filter((l) => members.has(l.worker.id) && !closed.has(l.job.id))
    if (!usable.length)
      return from.length
        ? 'Nothing of last week can be repeated: the jobs are closed'
        : 'There were no hours the week before'
    const there = new Map(lines().map((l) => [l.key, l]))
    const changes: (Change & { over: boolean })[] = []
    for (const line of hours ? usable : [])
      line.cells!.forEach((cell, day) => {
        const text = cell.text || cell.hours
        const now = there.get(line.key)
        if (!text || (now && (now.cells![day]!.entries || sheet.stateOf(now, day).text))) return
        const place = placeOf(line)
        const over = hasHours(line.worker.id, day)
        changes.push({ date: addDays(cell.date, 7), from: { place, text: '' }, to: { place, text }, over })
      })
    const over = changes.filter((c) => c.over)
    if (over.length && !onto) {
      const who = [...new Set(over.map((c) => c.to.place.worker.name))]
      const names = who.slice(0, 3).join(', ') + (who.length > 3 ? ` and ${who.length - 3} more` : '')
      return { asks: `${names} already ${who.length > 1 ? 'have' : 'has'} hours on some of these days.` }
    }
    const taken = onto === 'empty' ? changes.filter((c) => !c.over) : changes
    const used = new Set(taken.map((c) => keyOf(c.to.place)))
    const added = usable.filter((l) => !there.has(l.key) && (!hours || used.has(l.key))).map(placeOf)
    sheet.change(taken, 'last week repeated', added)
    const left = from.length - usable.length
    const what = hours ? counted(taken.length, 'cell') : counted(usable.length, 'line')
    return `${what} from last week${left ? `; ${counted(left, 'line')} left out, closed job or gone` : ''}`
  }

  /** One cell on other terms: its note, pay class, rate or place. */
  function detail(line: SheetLine, day: number, patch: Partial<Place>, note?: string) {
    const from = sheet.stateOf(line, day)
    const place = { ...from.place, ...patch }
    const what =
      note !== undefined && note !== from.note
        ? `note for ${name(line)}`
        : `${figure(line.cells![day]!.hours)} h of ${name(line)}`
    sheet.change([{ date: line.cells![day]!.date, from, to: { place, text: from.text, note } }], what)
    return keyOf(place)
  }

  return { toText, type, set, move, billable, crewFill, repeat, detail }
}

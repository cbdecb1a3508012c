import { useQuery } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { answered, client } from '@/api/client'
import { counted } from '@/parts/figures'
import { useFooting } from '@/book/footing'
import { moneyOf } from '@/book/money'
import { useOutbox, type CellEdit, type Place, type SavedCell, type SheetQuery } from '@/book/outbox'
import type { useScope } from '@/book/scope'
import { useUndo } from '@/book/undo'
import { allLines, cellKey, keyOf, placeOf, type Cell, type SheetLine } from './lines'

/** What stands in a cell: where it is booked, and what was typed. */
export interface CellState {
  place: Place
  text: string
  note?: string
}
/** One cell from what it was to what it shall be. */
export interface Change {
  date: string
  from: CellState
  to: CellState
  /** The entry that was seen when the typing began; what it is now where absent. */
  seen?: SavedCell
}

/** Lines that have no hours yet, so that only this window knows them, by sheet. */
const useAddedLines = defineStore('added-lines', () => ({ bySheet: ref<Record<string, Place[]>>({}) }))

/** A crew's week: what the book has of it, what is typed and not saved yet, and how it is changed. */
export function useCrewSheet(scope: ReturnType<typeof useScope>) {
  const footing = useFooting()
  const outbox = useOutbox()
  const undo = useUndo()
  const addedLines = useAddedLines()
  const crew = computed(() => scope.text('crew'))
  const query = computed<SheetQuery>(() => ({ week: scope.week.value, crew: crew.value, job: scope.job.value }))
  const sheetName = computed(() => Object.values(query.value).join('|'))
  const asked = useQuery({
    queryKey: computed(() => ['time', query.value]),
    queryFn: () => answered(client.GET('/api/time/sheet', { params: { query: query.value } })),
    shallow: true,
  })
  const { data } = asked
  const lines = computed(() => allLines(data.value, addedLines.bySheet[sheetName.value] ?? [], outbox.items))
  watch(sheetName, () => undo.forget(), { immediate: true })

  watch(
    data,
    (sheet) => {
      if (!sheet) return
      const shown = moneyOf(sheet.footing).filter((f) => f.label !== 'Other' || !crew.value)
      footing.show(
        [crew.value, scope.job.value || !crew.value ? scope.jobName.value : '', scope.short.value]
          .filter(Boolean)
          .join(', '),
        shown,
      )
    },
    { immediate: true },
  )

  const stands = (key: string, date: string): Cell | undefined =>
    lines.value.find((l) => l.key === key)?.cells?.find((c) => c.date === date)

  function send(change: Change) {
    const { date, from, to } = change
    const at = from.text ? from.place : to.place
    const cell = cellKey(at, date)
    const there = change.seen ?? stands(keyOf(at), date)
    const p = to.text ? to.place : from.place
    const base: CellEdit = {
      entryId: there?.entryId,
      version: there?.version,
      workerId: p.worker.id,
      jobId: p.job.id,
      billable: p.billable,
      date,
      text: to.text,
    }
    const patch: Partial<CellEdit> = { text: to.text }
    if (to.note !== undefined && to.note !== from.note) patch.note = to.note
    if (!there?.entryId || keyOf(from.place) !== keyOf(to.place))
      Object.assign(patch, {
        jobId: p.job.id,
        phaseId: p.phase?.id,
        costCodeId: p.costCode?.id,
        billable: p.billable,
        payClass: p.payClass,
        rate: p.rate || (there?.entryId && from.place.rate ? '' : undefined),
      })
    else Object.assign(base, { phaseId: p.phase?.id, costCodeId: p.costCode?.id, payClass: p.payClass })
    outbox.put({ sheet: query.value, cell, place: at, toCell: cellKey(to.text ? to.place : at, date) }, base, patch)
  }

  /** Takes changes back, save where the entry has changed since: that is somebody else's, and stays. */
  function reversed(changes: Change[]): { back: Change[]; left: number } {
    const back = changes
      .filter((c) => {
        const at = c.to.text ? c.to.place : c.from.place
        return outbox.isMine(cellKey(at, c.date), stands(keyOf(at), c.date))
      })
      .map((c) => ({ date: c.date, from: c.to, to: c.from }))
    return { back, left: changes.length - back.length }
  }

  /** Makes changes as one step that can be taken back. */
  function change(changes: Change[], what: string, added: Place[] = []) {
    if (!changes.length && !added.length) return
    let last = changes
    let there = true
    addLines(added)
    const turn = () => {
      there = !there
      if (there) addLines(added)
      else for (const place of added) dropLine(keyOf(place))
      const { back, left } = reversed(last)
      last = back
      back.forEach(send)
      void outbox.send()
      return left ? `${counted(left, 'cell')} changed since by somebody else, and left as they are` : undefined
    }
    changes.forEach(send)
    undo.did({ what, undo: turn, redo: turn })
    void outbox.send()
  }

  function stateOf(line: SheetLine, day: number): CellState {
    const cell = line.cells![day]!
    const unsaved = outbox.unsaved.get(`${line.key}|${cell.date}`)
    return {
      place: placeOf(line),
      text: unsaved && !unsaved.said ? unsaved.edit.text : cell.text,
      note: cell.note ?? '',
    }
  }

  function addLines(places: Place[]) {
    const had = addedLines.bySheet[sheetName.value] ?? []
    addedLines.bySheet[sheetName.value] = [...had, ...places]
  }
  function dropLine(key: string) {
    const had = addedLines.bySheet[sheetName.value] ?? []
    addedLines.bySheet[sheetName.value] = had.filter((p) => keyOf(p) !== key)
  }

  return { asked, sheet: data, query, lines, crew, change, stateOf, addLines, dropLine }
}

export type CrewSheet = ReturnType<typeof useCrewSheet>

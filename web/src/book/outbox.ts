import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener, useIntervalFn, useThrottleFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { answered, client, newKey, Refusal, wasLost, type Schema } from '@/api/client'
import { entries, show, sums } from '@/api/keys'
import { withPart } from './crewSheets'
import { useFooting } from './footing'
import { inTurn } from './turn'

export type CellEdit = Schema['CellEdit']
export type SavedCell = Schema['SavedCell']

/** The crew sheet that an edit was typed into. */
export interface SheetQuery {
  week: string
  crew: string
  job: string
}

/** Where hours are booked: the line of a crew sheet. */
export interface Place {
  worker: Schema['Named']
  job: Schema['Named']
  phase?: Schema['Named']
  costCode?: Schema['Named']
  billable: boolean
  payClass: string
  rate?: string
  ownRate?: boolean
}

/** An edit on its way to the book, or one that the book refused. */
export interface Outgoing {
  id: string
  sheet: SheetQuery
  /** The line and the day that it was typed into. */
  cell: string
  place: Place
  edit: CellEdit
  /** The line and the day that it goes to, where it is booked elsewhere. */
  toCell?: string
  /** Typed over one that was on its way: entry and version come with its answer. */
  follows?: boolean
  /** It was sent, and no answer came: it is sent again as it was, so that the book knows it for the same. */
  sent?: boolean
  /** Why it was refused, and what stands there now where somebody else was quicker. */
  said?: string
  theirs?: Schema['StaleCell']
}

const mostAtOnce = 400
const tryAgain = 2000

/** What shows single entries follows at once; what adds up many follows at its leisure. */
const leisure = 10_000

/**
 * What was typed into crew sheets and is not saved yet. It is sent in the order it was typed, kept on this machine until the
 * book has it, and taken up again after a reload or a lost connection. A retry makes nothing twice: new entries have a key,
 * changes a version.
 */
export const useOutbox = defineStore('outbox', () => {
  const footing = useFooting()
  const queries = useQueryClient()
  const items = ref<Outgoing[]>([])
  const mine = new Set<string>()
  /** What another window may have taken up too: it was kept on this machine before this window was opened. */
  const shared = new Set<string>()
  const onTheWay = new Set<string>()
  /** What the last saved edit of a cell was made to, and what came of it: typing may have begun before its answer came. */
  const replaced = new Map<string, { entryId?: number; version?: number; saved?: SavedCell }>()
  let kept = ''
  let sending = false

  /** The last that was typed into a cell and is not saved. */
  const unsaved = computed(() => new Map(items.value.map((i) => [i.cell, i])))
  const wrong = computed(() => items.value.filter((i) => i.said))
  const waiting = () => items.value.filter((i) => !i.said)

  function stored(): Outgoing[] {
    try {
      return JSON.parse(localStorage.getItem(kept) ?? '[]') as Outgoing[]
    } catch {
      return []
    }
  }
  function keep() {
    if (!kept) return
    forgetSent()
    const all = [...stored().filter((i) => !mine.has(i.id)), ...items.value]
    if (all.length) localStorage.setItem(kept, JSON.stringify(all))
    else localStorage.removeItem(kept)
  }
  /** Takes up what this person left unsent in this book. */
  function open(book: string, who: string) {
    const key = `jarvo-unsent-${book}-${who}`
    if (kept === key) return
    kept = key
    items.value = stored()
    for (const { id } of items.value) {
      mine.add(id)
      shared.add(id)
    }
    say()
    void send()
  }

  /** Takes an edit; a later one to the same cell takes its place while it has not been sent. */
  function put(item: Pick<Outgoing, 'sheet' | 'cell' | 'place' | 'toCell'>, base: CellEdit, patch: Partial<CellEdit>) {
    const refused = items.value.find((i) => i.cell === item.cell && i.said)
    items.value = items.value.filter((i) => i !== refused)
    const last = items.value.findLast((i) => i.cell === item.cell)
    let id = last?.id
    if (last && !onTheWay.has(last.id) && !last.sent) Object.assign(last.edit, patch)
    else {
      id = newKey()
      mine.add(id)
      const before = replaced.get(item.cell)
      const mineSince = before && before.entryId === base.entryId && before.version === base.version
      const edit = { ...base, ...patch, key: id, ...(mineSince ? idOf(before.saved) : {}) }
      items.value.push({ id, ...item, edit, follows: !!last })
    }
    keep()
  }

  const idOf = (saved?: SavedCell) => ({ entryId: saved?.entryId, version: saved?.version })
  function settle(item: Outgoing, saved?: SavedCell) {
    items.value = items.value.filter((i) => i.id !== item.id)
    const next = items.value.find((i) => i.cell === item.cell && i.follows)
    if (next) {
      next.follows = false
      Object.assign(next.edit, idOf(saved))
    }
    const { entryId, version } = item.edit
    for (const cell of [item.cell, item.toCell]) if (cell) replaced.set(cell, { entryId, version, saved })
  }

  function refuse(batch: Outgoing[], refusal: Refusal) {
    const stale = (refusal.problem.current ?? []) as Schema['StaleCell'][]
    const sentences = new Map<number, string>()
    for (const e of refusal.problem.errors ?? []) {
      const at = /^edits\[(\d+)\]/.exec(e.path)
      if (at && !sentences.has(Number(at[1]))) sentences.set(Number(at[1]), e.message)
    }
    batch.forEach((item, i) => {
      const said = sentences.size ? sentences.get(i) : refusal.message
      if (!said) return
      const newer = items.value.find((n) => n.cell === item.cell && n.follows)
      if (newer) {
        newer.follows = false
        items.value = items.value.filter((n) => n.id !== item.id)
        return
      }
      item.said = said
      item.sent = false
      item.theirs = Array.isArray(stale) ? stale.find((s) => s.edit === i) : undefined
    })
  }

  async function send() {
    if (sending || !waiting().length) return
    sending = true
    try {
      await inTurn(kept, sendAll)
    } finally {
      sending = false
    }
  }
  async function sendAll() {
    forgetSent()
    while (waiting().length) {
      const { sheet } = waiting()[0]!
      const batch = waiting()
        .filter(
          (i) => !i.follows && i.sheet.week === sheet.week && i.sheet.crew === sheet.crew && i.sheet.job === sheet.job,
        )
        .slice(0, mostAtOnce)
      for (const item of batch) {
        onTheWay.add(item.id)
        item.sent = true
      }
      keep()
      footing.saving('outbox')
      try {
        const answer = await answered(
          client.PUT('/api/time/cells', { body: { ...sheet, edits: batch.map((i) => i.edit) } }),
        )
        batch.forEach((item, i) => settle(item, answer.saved?.[i]))
        if (answer.unread) void queries.invalidateQueries({ queryKey: ['time'] })
        else show<Schema['Sheet']>(queries, ['time', sheet], (had) => withPart(had, answer))
      } catch (refused) {
        if (wasLost(refused)) {
          const why =
            refused instanceof Refusal && refused.status
              ? refused.message
              : 'there is no connection, they are sent when it is back'
          footing.notSaved(`${waiting().length} not saved yet: ${why}`, 'outbox')
          return
        }
        refuse(batch, refused as Refusal)
        void queries.invalidateQueries({ queryKey: ['time'] })
      } finally {
        onTheWay.clear()
        keep()
      }
    }
    say()
    for (const topic of entries) void queries.invalidateQueries({ queryKey: [topic] })
    void addUp()
  }
  /** What was taken up here and another window has sent meanwhile is no longer this window's to send. */
  function forgetSent() {
    const there = new Set(stored().map((i) => i.id))
    const left = items.value.filter((i) => there.has(i.id) || onTheWay.has(i.id) || !shared.has(i.id))
    if (left.length === items.value.length) return
    items.value = left
    say()
    void queries.invalidateQueries({ queryKey: ['time'] })
  }
  useEventListener(window, 'storage', (event) => {
    if (kept && event.key === kept) forgetSent()
  })
  const addUp = useThrottleFn(
    () => {
      for (const topic of sums) void queries.invalidateQueries({ queryKey: [topic] })
    },
    leisure,
    true,
  )
  function say() {
    const n = wrong.value.length
    if (n) footing.notSaved(`${n} to put right`, 'outbox')
    else if (!items.value.length) footing.saved('outbox')
  }

  /** Whether what stands in a cell is what this window put there last, or it put nothing there. */
  function isMine(cell: string, now?: SavedCell): boolean {
    const last = replaced.get(cell)
    return !last || (last.saved?.entryId === now?.entryId && last.saved?.version === now?.version)
  }

  /** Lets a refused edit go: what stands in the book stays. */
  function drop(cell: string) {
    items.value = items.value.filter((i) => i.cell !== cell || !i.said)
    keep()
    say()
  }

  useIntervalFn(() => waiting().length && void send(), tryAgain)
  useEventListener(window, 'online', () => void send())

  return { items, unsaved, wrong, open, put, send, drop, isMine }
})

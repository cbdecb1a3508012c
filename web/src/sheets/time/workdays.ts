import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, reactive, watch, type Ref } from 'vue'
import { answered, client, Refusal, type Schema } from '@/api/client'
import { show } from '@/api/keys'
import { useFooting } from '@/book/footing'
import { useSession } from '@/book/session'
import { useUndo } from '@/book/undo'
import { clockText } from './entries'

export type WorkerDay = Schema['WorkerDay']
export type ClockPart = 'start' | 'finish' | 'break'
export const clockParts: ClockPart[] = ['start', 'finish', 'break']

/** What is typed of a worker's clock times and is not in the book yet. */
interface Draft {
  start: string
  finish: string
  break: string
  said?: string
}

/** A crew's day by the clock: what the book has, and what is typed. */
export function useWorkdays(query: Ref<{ date: string; crew: string }>) {
  const footing = useFooting()
  const queries = useQueryClient()
  const undo = useUndo()
  const drafts = reactive(new Map<number, Draft>())
  const asked = useQuery({
    queryKey: computed(() => ['time-day', query.value]),
    queryFn: () => answered(client.GET('/api/time/day', { params: { query: query.value } })),
  })
  const { data } = asked
  /** What is typed and not saved is kept on this machine, and taken up where the day is opened again. */
  const session = useSession()
  const kept = useLocalStorage<Record<string, [number, Draft][]>>(
    `jarvo-days-${session.book?.key ?? ''}-${session.who?.name ?? ''}`,
    {},
  )
  const dayName = () => `${query.value.date}|${query.value.crew}`
  function keep() {
    const others = Object.entries(kept.value).filter(([name]) => name !== dayName())
    const mine: [string, [number, Draft][]][] = drafts.size ? [[dayName(), [...drafts]]] : []
    kept.value = Object.fromEntries([...others, ...mine])
  }
  watch(
    query,
    () => {
      drafts.clear()
      for (const [worker, draft] of kept.value[dayName()] ?? []) drafts.set(worker, { ...draft })
    },
    { immediate: true },
  )
  watch(
    () => data.value,
    (there) => there && drafts.size > 0 && void send(),
    { once: true },
  )
  const workers = computed(() => data.value?.workers ?? [])
  const of = (worker: number) => workers.value.find((w) => w.worker.id === worker)

  const shown = (w: WorkerDay, part: ClockPart) => drafts.get(w.worker.id)?.[part] ?? w[part] ?? ''
  /** The text that a draft comes to; undefined while a start or a finish is missing, blank where all of it was emptied. */
  function textOf(d: Draft): string | undefined {
    if (!d.start && !d.finish) return ''
    return clockText(d.start, d.finish, d.break)
  }

  /** Sends what is whole, and nothing else meanwhile: what is typed while a save is on its way follows it. */
  let sending = false
  let more = false
  async function send() {
    more = true
    if (sending) return
    sending = true
    while (more) {
      more = false
      more = (await sendOnce()) || more
    }
    sending = false
  }
  /** Sends once; true where there is more to send at once. What can't be sent stays as it was typed, and is sent again. */
  async function sendOnce(): Promise<boolean> {
    const ready = [...drafts].filter(([, d]) => !d.said && textOf(d) !== undefined)
    if (!ready.length) return false
    footing.saving()
    const body = {
      ...query.value,
      workers: ready.map(([worker, d]) => ({ workerId: worker, text: textOf(d)!, version: of(worker)?.version ?? 0 })),
    }
    try {
      show(queries, ['time-day', { ...query.value }], await answered(client.PUT('/api/time/day', { body })))
      for (const [worker, sent] of ready) if (drafts.get(worker) === sent) drafts.delete(worker)
      keep()
      footing.saved()
      return drafts.size > 0
    } catch (refused) {
      const errors = refused instanceof Refusal ? (refused.problem.errors ?? []) : []
      if (!errors.length) footing.notSaved(`Not saved yet: ${(refused as Error).message}`)
      for (const e of errors) {
        const draft = ready[Number(/\d+/.exec(e.path)?.[0])]?.[1]
        if (draft) draft.said = e.message
      }
      if (!errors.length) return false
      footing.notSaved(`${errors.length} to put right`)
      void queries.invalidateQueries({ queryKey: ['time-day'] })
      return errors.length < ready.length
    }
  }
  useIntervalFn(() => drafts.size && footing.unsaved && void send(), 2000)

  function put(texts: [number, Draft][]) {
    for (const [worker, draft] of texts) drafts.set(worker, draft)
    keep()
    void send()
  }
  const draftOf = (w: WorkerDay): Draft => ({ start: w.start ?? '', finish: w.finish ?? '', break: w.break ?? '' })

  /** Takes one part of a worker's clock times. */
  function type(w: WorkerDay, part: ClockPart, text: string) {
    const before = draftOf(w)
    const after = { ...before, ...drafts.get(w.worker.id), said: undefined, [part]: text.trim() }
    put([[w.worker.id, after]])
    undo.did({
      what: `${w.worker.name}'s ${part}`,
      undo: () => void put([[w.worker.id, before]]),
      redo: () => void put([[w.worker.id, { ...after }]]),
    })
  }
  /** The same clock times for several workers. */
  function fill(workersToFill: WorkerDay[], draft: Draft) {
    put(workersToFill.map((w) => [w.worker.id, { ...draft }]))
  }
  return { asked, data, workers, shown, drafts, type, fill }
}

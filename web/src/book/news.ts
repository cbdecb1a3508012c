import { useQueryClient } from '@tanstack/vue-query'
import { useDocumentVisibility, useThrottleFn, useTimeoutFn } from '@vueuse/core'
import { onScopeDispose, watch } from 'vue'
import { answered, client, Refusal, windowName, type Schema } from '@/api/client'
import { sums } from '@/api/keys'
import { readAgain } from './crewSheets'
import { useFooting } from './footing'
import { useOutbox } from './outbox'
import { useSession } from './session'

/** What is looked at again when something of a kind was changed elsewhere. */
const topics: Record<string, string[]> = {
  time_entry: ['time-list', 'time-day', 'workings', 'history'],
  workday: ['time-day'],
  cost_document: ['costs', 'prices', 'workings', 'history'],
  item: ['prices'],
  loose_end: [],
  invoice: ['invoice', 'time', 'time-list', 'costs', 'workings', 'messages'],
  message: ['messages'],
  message_text: ['messages'],
}
/** Rates, workers and jobs change what every sheet shows. */
const everything = 'everything'
const atMostEvery = 1500
const tryAgain = 5_000
const sumsEvery = 10_000

/** Keeps what is shown up to date with what others do, as the book tells it. */
export function useNews() {
  const queries = useQueryClient()
  const outbox = useOutbox()
  const footing = useFooting()
  const session = useSession()
  const visible = useDocumentVisibility()
  const stale = new Set<string>()
  const workers = new Set<number>()
  let stream: EventSource | undefined
  let connected = false

  const refresh = useThrottleFn(
    () => {
      if (stale.has(everything)) void queries.invalidateQueries()
      else {
        for (const topic of stale) void queries.invalidateQueries({ queryKey: [topic] })
        if (workers.size && !stale.has('time')) void readAgain(queries, [...workers])
      }
      stale.clear()
      workers.clear()
    },
    atMostEvery,
    true,
  )
  const addUp = useThrottleFn(
    () => {
      for (const topic of sums) void queries.invalidateQueries({ queryKey: [topic] })
    },
    sumsEvery,
    true,
  )
  function hear(event: MessageEvent<string>) {
    const { news } = JSON.parse(event.data) as Schema['Changed']
    if (!news?.length) {
      // Connected: what happened while there was no connection is looked up, and what was kept is sent.
      if (connected) stale.add(everything)
      connected = true
      void outbox.send()
    }
    for (const item of news ?? []) {
      if (item.window === windowName) continue
      for (const topic of topics[item.kind] ?? [everything]) stale.add(topic)
      if (item.kind === 'time_entry') {
        if (item.worker) workers.add(item.worker)
        else stale.add('time')
      }
    }
    if (stale.size) {
      void refresh()
      void addUp()
    }
  }
  const later = useTimeoutFn(() => listen(visible.value === 'visible'), tryAgain, { immediate: false })
  /** The book does not tell this window of changes: the session is over, the server is away, or too many windows are open. */
  async function refused() {
    try {
      await answered(client.GET('/api/session'))
      footing.state = 'Not following what others change: too many windows are open. Close one of them.'
    } catch (error) {
      if (error instanceof Refusal && error.status === 401) await session.again()
    }
    later.start()
  }
  function listen(on: boolean) {
    stream?.close()
    stream = on ? new EventSource('/api/news') : undefined
    if (!stream) return
    stream.onmessage = hear
    stream.onerror = () => {
      if (stream?.readyState === EventSource.CLOSED) void refused()
    }
  }
  // A browser allows few connections: a window that nobody sees gives its own up.
  watch(visible, (state) => listen(state === 'visible'), { immediate: true })
  onScopeDispose(() => listen(false))
}

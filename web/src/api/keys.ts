import type { QueryClient, QueryKey } from '@tanstack/vue-query'

/** What a window keeps of the book: the first word of the key of each query. */
export type Topic =
  | 'approve'
  | 'bill'
  | 'choices'
  | 'clock'
  | 'costs'
  | 'counts'
  | 'find'
  | 'footing'
  | 'history'
  | 'invoice'
  | 'jobs'
  | 'messages'
  | 'page'
  | 'prices'
  | 'setup'
  | 'time'
  | 'time-day'
  | 'time-list'
  | 'today'
  | 'trail'
  | 'users'
  | 'workings'

/** What adds up much: looked at again at leisure, when others write. */
export const sums: Topic[] = ['footing', 'counts', 'bill', 'jobs', 'today', 'approve', 'page']
/** What shows single entries. */
export const entries: Topic[] = ['time-list', 'time-day', 'workings', 'history']

/** What a change makes stale, by what is changed. What work rests on (rates, workers, jobs) is in everything. */
export const stale = {
  hours: ['time', ...entries, ...sums],
  /** The answer of a hand-in is the crew sheet itself. */
  handIn: [...entries, ...sums],
  papers: ['costs', 'prices', 'workings', 'history', 'trail', ...sums],
  invoices: ['invoice', 'time', 'time-list', 'costs', 'workings', 'history', 'trail', ...sums],
  clock: ['clock', 'time', 'time-day', ...sums],
  users: ['users'],
  messages: ['messages', 'trail', 'history', 'page'],
  prices: ['prices', 'choices', 'costs'],
  /** It was only looked at. */
  nothing: [],
  everything: undefined,
} satisfies Record<string, Topic[] | undefined>

/** A kind of change to the book. */
export type Change = keyof typeof stale

/**
 * Shows what the book answered to a change. What was asked before the change may be answered after it, and would show what stood
 * there before: it is asked once more.
 */
export function show<T>(queries: QueryClient, queryKey: QueryKey, now: T | ((had?: T) => T | undefined)) {
  const underWay = queries.isFetching({ queryKey, exact: true }) > 0
  queries.setQueryData<T>(queryKey, now as T)
  if (underWay) void queries.invalidateQueries({ queryKey, exact: true })
}

/** Has everything that a change makes stale looked at again. */
export async function refresh(queries: QueryClient, change: Change): Promise<void> {
  const topics: Topic[] | undefined = stale[change]
  if (!topics) return queries.invalidateQueries()
  await queries.invalidateQueries({ predicate: (q) => topics.includes(q.queryKey[0] as Topic) })
}

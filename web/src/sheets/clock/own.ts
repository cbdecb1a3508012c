import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, type Schema } from '@/api/client'
import { client } from '@/api/client'
import { refresh } from '@/api/keys'
import { hours } from '@/parts/figures'
import { useAct } from '@/book/act'
import { useFooting } from '@/book/footing'

export type ClockPage = Schema['ClockPage']
export type OwnPlace = Schema['OwnPlace']

export const placeKey = (p: OwnPlace) => `${p.jobId}-${p.phaseId ?? 0}-${p.costCodeId ?? 0}`

/** A worker's own page: what the book has of a week, and what is done to it. What was refused is said. */
export function useOwnHours(week: () => string) {
  const queries = useQueryClient()
  const key = computed(() => ['clock', week()])
  const { busy, said, act } = useAct('clock')
  const asked = useQuery({
    queryKey: key,
    queryFn: () => answered(client.GET('/api/clock', { params: { query: { week: week() } } })),
    refetchInterval: 60_000,
  })
  function show(page: ClockPage) {
    for (const at of [page.week, week()]) if (!at || at === page.week) queries.setQueryData(['clock', at], page)
  }
  /** What was pressed is in the book. */
  function came(page: ClockPage) {
    show(page)
    void refresh(queries, 'clock')
  }
  async function run(call: () => Promise<ClockPage>): Promise<boolean> {
    const page = await act(call)
    if (page) show(page)
    return !!page
  }
  return { asked, data: asked.data, said, run, came, busy }
}

/** The worker's hours in the Footing; running is what goes on and is in no entry yet. */
export function showOwn(page: ClockPage, running = 0) {
  const today = page.days?.find((d) => d.date === page.today)?.minutes ?? 0
  useFooting().show('My hours', [
    { label: 'Today', value: clockHours(today + running), asIs: true },
    { label: 'This week', value: hours(page.hours) || '0' },
    { label: 'Last week', value: hours(page.lastWeek) || '0' },
  ])
}

/** Minutes as hours and minutes: 3:24. */
export const clockHours = (minutes: number) => `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, '0')}`

import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router'
import { answered, client } from '@/api/client'
import { useSession } from './session'
import { addDays, day, longDay, shortDay, weekdayNumber } from '@/parts/figures'

const weekdays = ['sunday', 'monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday']

/** What fields choose from: loaded once, and again after Setup changes it. */
export function useChoices() {
  const session = useSession()
  return useQuery({
    queryKey: ['choices'],
    queryFn: () => answered(client.GET('/api/choices')),
    staleTime: 60_000,
    enabled: () => session.can('capture'),
  })
}

export const spans = ['day', 'week', 'month', 'quarter', 'year', 'range', 'all'] as const
export const spanNames: Record<Span, string> = {
  day: 'day',
  week: 'week',
  month: 'month',
  quarter: 'quarter',
  year: 'year',
  range: 'from … to …',
  all: 'all dates',
}
export type Span = (typeof spans)[number]

/** Where and When: the two questions of every sheet. Both live in the address and stay from tab to tab. */
export function useScope() {
  const route = useRoute()
  const router = useRouter()
  const session = useSession()
  const { data: choices } = useChoices()

  const text = (name: string) => (typeof route.query[name] === 'string' ? (route.query[name] as string) : '')
  const job = computed(() => text('job'))
  const jobName = computed(() => {
    const found = choices.value?.jobs?.find((j) => j.number === job.value)
    return job.value ? `${job.value} ${found?.name ?? ''}` : 'All jobs'
  })
  const span = computed<Span>(() => spans.find((s) => s === text('span')) ?? 'week')
  /** Where the company is: what the browser takes for today may be another day. */
  const today = computed(() => choices.value?.company.today ?? session.book?.today ?? '')
  const at = computed(() => text('from') || today.value)

  /** The first day of the company's week, 0 for Sunday. */
  const firstDay = computed(() => weekdays.indexOf(choices.value?.company.weekStart ?? 'monday'))
  const weekOf = (date: string) => {
    return addDays(date, -((weekdayNumber(date) - firstDay.value + 7) % 7))
  }
  const week = computed(() => weekOf(at.value))
  const monthStart = (date: string, months: number) => {
    const d = new Date(`${date.slice(0, 7)}-01T00:00:00Z`)
    d.setUTCMonth(d.getUTCMonth() + months)
    return d.toISOString().slice(0, 10)
  }
  /** How many months a span has, where it is one of months. */
  const months: Partial<Record<Span, number>> = { month: 1, quarter: 3, year: 12 }
  const first = computed(() => {
    const many = months[span.value] ?? 1
    return monthStart(at.value, -((Number(at.value.slice(5, 7)) - 1) % many))
  })
  const from = computed(() => {
    if (span.value === 'all') return ''
    if (span.value === 'week') return week.value
    return months[span.value] ? first.value : at.value
  })
  const to = computed(() => {
    if (span.value === 'all') return ''
    if (span.value === 'week') return addDays(week.value, 6)
    if (span.value === 'range') return text('to') || at.value
    const many = months[span.value]
    return many ? addDays(monthStart(first.value, many), -1) : at.value
  })
  const when = computed(() => {
    if (span.value === 'all') return 'all dates'
    const [first, last] = [from.value, to.value]
    const year = last.slice(0, 4) === today.value.slice(0, 4) ? '' : ` ${last.slice(0, 4)}`
    if (span.value === 'day') return `${day(first)}${year || ` ${last.slice(0, 4)}`}`
    return span.value === 'week' ? `${day(first)} – ${day(last)}${year}` : `${longDay(first)} – ${longDay(last)}`
  })
  const short = computed(() => {
    if (span.value === 'all') return 'all dates'
    return span.value === 'day' ? day(from.value) : `${shortDay(from.value)} – ${shortDay(to.value)}`
  })

  function change(query: LocationQueryRaw) {
    const merged = { ...route.query, ...query }
    for (const key of Object.keys(merged)) if (!merged[key]) delete merged[key]
    return router.push({ path: route.path, query: merged })
  }
  function move(by: 1 | -1) {
    if (span.value === 'all') return
    const many = months[span.value]
    if (many) return change({ from: monthStart(first.value, by * many) })
    if (span.value !== 'range') return change({ from: addDays(at.value, by * (span.value === 'day' ? 1 : 7)) })
    const days = (Date.parse(to.value) - Date.parse(from.value)) / 86_400_000 + 1
    return change({ from: addDays(from.value, by * days), to: addDays(to.value, by * days) })
  }
  /** Whether When was chosen, and is not just the week that sheets begin with. */
  const chosen = computed(() => !!(text('from') || text('span')))
  /** The part of the address that goes along from tab to tab. */
  const kept = computed(() => ({
    ...(job.value ? { job: job.value } : {}),
    ...(text('from') ? { from: text('from') } : {}),
    ...(text('span') ? { span: text('span') } : {}),
    ...(span.value === 'range' ? { to: to.value } : {}),
    ...(text('crew') ? { crew: text('crew') } : {}),
  }))
  const query = computed(() => ({ job: job.value, from: from.value, to: to.value }))

  return {
    job,
    jobName,
    span,
    at,
    week,
    weekOf,
    from,
    to,
    when,
    short,
    firstDay,
    today,
    chosen,
    kept,
    query,
    change,
    move,
    choices,
    text,
  }
}

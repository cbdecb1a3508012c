import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { counted, day, sumOf } from '@/parts/figures'
import { useScope } from '@/book/scope'
import { useDecision, type Verdict } from './decision'

/** A row to decide on: a worker's week, or a paper. */
export interface Row {
  key: string
  title: string
  sub: string
  group: string
  marks: Schema['Mark'][]
  entries: Schema['Seen'][]
  documents: Schema['Seen'][]
  hours?: string
  cost: string
  charge: string
  trail: Schema['Trail']
  week?: Schema['WaitingWeek']
  paper?: Schema['WaitingPaper']
}

/** The rows of what waits; each names its week, where several are in sight. */
function rowsOf(sheet: Schema['ApproveSheet'], oneWeek: boolean): Row[] {
  return [
    ...(sheet.weeks ?? []).map((w) => ({
      ...w,
      key: `w${w.workerId}-${w.week}`,
      title: w.worker,
      sub: [w.trade, oneWeek ? '' : `week of ${day(w.week)}`].filter(Boolean).join(', '),
      group: w.crew || 'Without a crew',
      marks: w.marks ?? [],
      entries: w.entries ?? [],
      documents: [],
      week: w,
    })),
    ...(sheet.papers ?? []).map((p) => ({
      ...p,
      key: `d${p.documentId}`,
      sub: `${p.detail}, ${counted(p.lines, 'line')}`,
      group: 'Papers',
      marks: p.marks ?? [],
      entries: [],
      documents: [{ id: p.documentId, version: p.version }],
      paper: p,
    })),
  ]
}

/** What waits for approval, what of it is chosen and which row is in hand, and the two decisions on it. */
export function useWaiting() {
  const scope = useScope()
  /** A page of a long list; the oldest come first. */
  const page = ref(0)
  watch(scope.query, () => (page.value = 0))
  const question = computed(() => ({ ...scope.query.value, page: page.value }))
  const asked = useQuery({
    queryKey: ['approve', question],
    queryFn: () => answered(client.GET('/api/approve', { params: { query: question.value } })),
  })
  const { data } = asked
  watch(data, (sheet) => {
    if (sheet && page.value >= sheet.pages) page.value = sheet.pages - 1
  })
  const kind = ref<'all' | 'hours' | 'papers'>('all')
  const all = computed(() => (data.value ? rowsOf(data.value, scope.span.value === 'week') : []))
  const rows = computed(() => all.value.filter((r) => kind.value === 'all' || (kind.value === 'hours') === !!r.week))
  const chosen = ref<(string | number)[]>([])
  const at = ref('')
  const decision = useDecision()
  const { busy, said } = decision
  const current = computed(() => rows.value.find((r) => r.key === at.value) ?? rows.value[0])
  const picked = computed(() => rows.value.filter((r) => chosen.value.includes(r.key)))
  const subject = computed(() => (picked.value.length ? picked.value : current.value ? [current.value] : []))
  const plain = computed(() => rows.value.filter((r) => !r.marks.length))
  const sums = (of: Row[]) => ({
    hours: sumOf(of.map((r) => r.hours)),
    cost: sumOf(of.map((r) => r.cost)),
    charge: sumOf(of.map((r) => r.charge)),
  })

  function toggle(row: Row) {
    const had = chosen.value
    chosen.value = had.includes(row.key) ? had.filter((k) => k !== row.key) : [...had, row.key]
  }
  function step(by: number) {
    const i = rows.value.findIndex((r) => r.key === current.value?.key)
    at.value = rows.value[Math.max(0, Math.min(rows.value.length - 1, i + by))]?.key ?? ''
  }
  async function decide(verdict: Verdict, of: Row[], reason = ''): Promise<boolean> {
    const body = { entries: of.flatMap((r) => r.entries), documents: of.flatMap((r) => r.documents), reason }
    if (!(await decision.decide(verdict, body, of.length > 1 ? counted(of.length, 'row') : of[0]!.title))) return false
    const last = rows.value.findIndex((r) => r.key === of.at(-1)?.key)
    const next = rows.value.slice(last + 1).find((r) => !of.includes(r))
    chosen.value = []
    at.value = next?.key ?? ''
    return true
  }
  return {
    asked,
    data,
    page,
    kind,
    all,
    rows,
    chosen,
    at,
    said,
    busy,
    current,
    picked,
    subject,
    plain,
    sums,
    toggle,
    step,
    decide,
  }
}

export type Waiting = ReturnType<typeof useWaiting>

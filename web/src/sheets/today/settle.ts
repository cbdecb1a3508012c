import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, client, Refusal, retryKey, type Schema } from '@/api/client'
import { useFooting } from '@/book/footing'

export type LooseEnd = Schema['LooseEnd']

/** What each kind of loose end needs a permission for to be settled in place; the others are settled where they lead. */
export const settledBy: Record<string, string> = {
  hole: 'capture',
  not_handed_in: 'capture',
  no_code: 'approve',
  no_job: 'costs',
  no_wage: 'setup',
  no_rate: 'setup',
  no_markup: 'setup',
  late: 'bill',
}

/** What is filled in to settle a loose end. */
export interface Filled {
  hours: string
  job?: number
  code?: number
  value: string
  from: string
  whom: string
}

/** What the fields begin with: a rate or a markup begins with the first work that it is missing for. */
export function filledFor(end: LooseEnd, all: LooseEnd[]): Filled {
  const alike = all.filter((e) => e.kind === end.kind && e.trade === end.trade && e.category === end.category)
  const first = alike.reduce((from, e) => (e.date && e.date < from ? e.date : from), end.date ?? '')
  return {
    hours: end.hours ?? '',
    job: end.jobId,
    code: end.costCodeId,
    value: '',
    from: end.kind.startsWith('no_') ? first : (end.date ?? ''),
    whom: 'trade',
  }
}

/** The one call that settles a loose end with what was filled in. */
async function callFor(end: LooseEnd, f: Filled, today: string, retry: ReturnType<typeof retryKey>): Promise<unknown> {
  const key = retry.for([end.kind, end.subject, f])
  const week = { week: end.date!, crew: end.crew ?? '', job: '' }
  const handIn = (mark: string) => answered(client.POST('/api/time/hand-in', { body: { ...week, mark } }))
  switch (end.kind) {
    case 'hole': {
      const edit = { key, workerId: end.workerId!, date: end.date!, text: f.hours, billable: true }
      const body = { ...week, edits: [{ ...edit, jobId: f.job ?? 0, costCodeId: f.code ?? undefined }] }
      const saved = await answered(client.PUT('/api/time/cells', { body }))
      return end.handIn && saved.mark ? handIn(saved.mark) : saved // what is late is not left behind once more
    }
    case 'not_handed_in':
      return handIn(end.mark ?? '')
    case 'no_code': {
      const params = { path: { id: end.jobId! } }
      return answered(
        client.POST('/api/jobs/{id}/code', { params, body: { costCodeId: f.code ?? 0, entries: end.entries ?? 0 } }),
      )
    }
    case 'no_job': {
      const body = { jobId: f.job ?? 0, costCodeId: f.code ?? undefined, version: end.version ?? 0 }
      return answered(client.POST('/api/costs/lines/{id}/place', { params: { path: { id: end.lineId! } }, body }))
    }
    case 'no_wage': {
      const body = { key, workerId: end.workerId!, rate: f.value, effectiveFrom: f.from }
      return answered(client.POST('/api/wages', { body }))
    }
    case 'no_rate': {
      const whom = f.whom === 'trade' && end.trade ? { trade: end.trade } : { workerId: end.workerId }
      const body = { key, card: '', method: 'hourly' as const, value: f.value, effectiveFrom: f.from, ...whom }
      return answered(client.POST('/api/labour-rates', { body }))
    }
    case 'no_markup': {
      const body = { key, card: '', category: end.category!, percent: f.value, effectiveFrom: f.from }
      return answered(client.POST('/api/markups', { body }))
    }
    default: {
      const body = { key, jobs: [end.jobId!], through: today, date: today }
      return answered(client.POST('/api/bill/drafts', { body }))
    }
  }
}

/** Settling loose ends: busy while under way, and the sentence where it was refused. */
export function useSettling() {
  const queries = useQueryClient()
  const footing = useFooting()
  const busy = ref(false)
  const said = ref('')
  const settled = ref(0)

  async function run(call: () => Promise<unknown>): Promise<boolean> {
    busy.value = true
    said.value = ''
    try {
      await call()
      settled.value++
      footing.saved()
      void queries.invalidateQueries()
      return true
    } catch (refused) {
      const sentences = refused instanceof Refusal ? Object.values(refused.fields()) : []
      said.value = sentences[0] ?? (refused as Error).message
      return false
    } finally {
      busy.value = false
    }
  }
  const retry = retryKey()
  const settle = async (end: LooseEnd, filled: Filled, today: string) => {
    const done = await run(() => callFor(end, filled, today, retry))
    if (done) retry.done()
    return done
  }
  const setAside = (end: LooseEnd, reason: string) =>
    run(() =>
      answered(client.POST('/api/loose-ends/aside', { body: { kind: end.kind, subject: end.subject, reason } })),
    )
  const bringBack = ({ kind, subject }: Schema['Aside']) =>
    run(() => answered(client.DELETE('/api/loose-ends/aside', { params: { query: { kind, subject } } })))
  return { busy, said, settled, settle, setAside, bringBack }
}

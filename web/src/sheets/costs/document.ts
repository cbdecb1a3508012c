import { useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answered, client, newKey, Refusal, type Schema } from '@/api/client'
import { useFooting } from '@/shell/footing'

export type Document = Schema['Document']
export type Line = Schema['Line']

export function blankLine(job?: number): Line {
  return { category: 'material', description: '', quantity: '', unit: '', unitCost: '', billable: true, jobId: job }
}

export function blankDocument(today: string, job?: number): Document {
  return {
    key: newKey(),
    kind: 'supplier_invoice',
    supplier: '',
    date: today,
    number: '',
    freight: '',
    tax: '',
    lines: [blankLine(job), blankLine(job), blankLine(job)],
  }
}

const blank = (l: Line) => !l.description && !l.unitCost && !l.quantity

/** A document in hand: what is typed, what it comes to as the server works it out, and what is wrong with it. */
export function useDocument() {
  const queries = useQueryClient()
  const footing = useFooting()
  const typed = ref<Document>()
  const shown = ref<Document>()
  const wrong = ref<Record<string, string>>({})
  const said = ref('')
  const busy = ref(false)
  const changed = ref(false)
  const locked = computed(() => typed.value?.locked ?? '')

  /** What is sent: lines that nothing was typed into are left out, so paths are mapped back to the rows on screen. */
  function sent(): { body: Document; rows: number[] } {
    const d = typed.value!
    const rows = (d.lines ?? []).map((_, i) => i).filter((i) => !blank(d.lines![i]!))
    const lines = rows.map((i) => {
      const l = d.lines![i]!
      return {
        ...l,
        quantity: l.quantity || '1',
        jobId: l.jobId ?? undefined,
        phaseId: l.phaseId ?? undefined,
        costCodeId: l.costCodeId ?? undefined,
      }
    })
    return { body: { ...d, lines, workerId: d.workerId ?? undefined }, rows }
  }
  function fields(refused: unknown, rows: number[]) {
    if (!(refused instanceof Refusal)) return {}
    return Object.fromEntries(
      Object.entries(refused.fields()).map(([path, text]) => [
        path.replace(/^lines\[(\d+)\]/, (_, n) => `lines[${rows[Number(n)]}]`),
        text,
      ]),
    )
  }

  const preview = useDebounceFn(async () => {
    if (!typed.value || locked.value) return
    const { body, rows } = sent()
    if (!rows.length || !body.date) return
    try {
      const answer = await answered(
        client.POST('/api/costs/preview', { body: { ...body, supplier: body.supplier || '?' } }),
      )
      const lines: Line[] = (typed.value.lines ?? []).map(() => blankLine())
      rows.forEach((row, i) => (lines[row] = answer.lines![i]!))
      shown.value = { ...answer, lines }
      wrong.value = {}
    } catch (refused) {
      wrong.value = fields(refused, rows)
    }
  }, 220)

  function open(d: Document) {
    typed.value = structuredClone(d)
    shown.value = d
    wrong.value = {}
    said.value = ''
    changed.value = false
  }
  function edited() {
    changed.value = true
    footing.notSaved('1 paper not saved')
    void preview()
  }
  watch(typed, () => void preview())

  async function act(call: (rows: number[], body: Document) => Promise<Document>) {
    if (!typed.value) return undefined
    const { body, rows } = sent()
    busy.value = true
    said.value = ''
    try {
      const saved = await call(rows, body)
      open(saved)
      footing.saved()
      for (const key of ['costs', 'footing', 'counts', 'approve', 'bill', 'jobs', 'today', 'workings'])
        void queries.invalidateQueries({ queryKey: [key] })
      return saved
    } catch (refused) {
      wrong.value = fields(refused, rows)
      said.value = (refused as Error).message
      return undefined
    } finally {
      busy.value = false
    }
  }
  const put = (body: Document) => answered(client.PUT('/api/costs', { body }))
  const save = () => act((_, body) => put(body))
  const handIn = () =>
    act(async (_, body) => {
      const saved = changed.value || !body.id ? await put(body) : body
      return answered(
        client.POST('/api/costs/{id}/hand-in', {
          params: { path: { id: saved.id! } },
          body: { version: saved.version! },
        }),
      )
    })

  return { typed, shown, wrong, said, busy, changed, locked, open, edited, save, handIn }
}

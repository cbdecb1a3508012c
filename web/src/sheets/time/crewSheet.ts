import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn } from '@vueuse/core'
import { computed, reactive, ref, watch } from 'vue'
import { answered, client, newKey, Refusal, type Schema } from '@/api/client'
import { useFooting } from '@/shell/footing'
import type { useScope } from '@/shell/scope'

export type Sheet = Schema['Sheet']
export type SheetLine = Schema['SheetLine']
export type Cell = Schema['Cell']

/** A line that has no hours yet, so that only this window knows it. */
export interface NewLine {
  worker: Schema['Named']
  job: Schema['Named']
  phase?: Schema['Named']
  costCode?: Schema['Named']
}

interface Pending {
  line: string
  edit: Schema['CellEdit']
}

const keyOf = (l: NewLine) => `${l.worker.id}-${l.job.id}-${l.phase?.id ?? 0}-${l.costCode?.id ?? 0}-true-auto--1`

/** A crew's week: what the server has of it, what is typed and not saved yet, and what is wrong with it. */
export function useCrewSheet(scope: ReturnType<typeof useScope>) {
  const footing = useFooting()
  const queries = useQueryClient()
  const crew = computed(() => scope.text('crew'))
  const query = computed(() => ({ week: scope.week.value, crew: crew.value, job: scope.job.value }))
  const key = computed(() => ['time', query.value])
  const { data, error, isLoading } = useQuery({
    queryKey: key,
    queryFn: () => answered(client.GET('/api/time/sheet', { params: { query: query.value } })),
  })
  const added = ref<NewLine[]>([])
  const wrong = reactive(new Map<string, { text: string; said: string }>())
  const queue: Pending[] = []
  let busy = false

  watch(query, () => {
    added.value = []
    wrong.clear()
  })

  const lines = computed<SheetLine[]>(() => {
    const sheet = data.value
    if (!sheet) return []
    const there = sheet.lines ?? []
    const fresh = added.value
      .filter((l) => !there.some((s) => s.key === keyOf(l)))
      .map<SheetLine>((l) => ({
        key: keyOf(l),
        worker: l.worker,
        job: l.job,
        phase: l.phase,
        costCode: l.costCode,
        billable: true,
        payClass: 'auto',
        cells: (sheet.days ?? []).map((date) => ({ date, entries: 0, hours: '', text: '' })),
        hours: '',
        overtime: '',
        trail: { stage: 'captured', billable: true, text: 'nothing captured yet' },
      }))
    const all = [...there]
    for (const line of fresh) {
      const last = all.findLastIndex((l) => l.worker.id === line.worker.id)
      all.splice(last < 0 ? all.length : last + 1, 0, line)
    }
    return all
  })

  watch(
    data,
    (sheet) => {
      if (!sheet) return
      const f = sheet.footing
      const of = (label: string, value?: string, change?: string) => ({ label, value: value ?? '', change })
      const shown = [of('Hours', f.hours, f.change?.hours === '0.00' ? undefined : f.change?.hours)]
      if (f.cost !== undefined)
        shown.push(
          of('Labour', f.labour, f.change?.labour),
          of('Other', f.other, f.change?.other),
          of('Cost', f.cost, f.change?.cost),
          of('Charge', f.charge, f.change?.charge),
          of('Margin', f.margin ? `${f.margin} %` : ''),
        )
      footing.show(`${scope.jobName.value}, ${scope.short.value}`, shown)
    },
    { immediate: true },
  )

  async function sendAll() {
    if (busy) return
    busy = true
    footing.saving()
    while (queue.length > 0) {
      const next = queue[0]!
      try {
        const sheet = await answered(client.PUT('/api/time/cells', { body: { ...query.value, edits: [next.edit] } }))
        queries.setQueryData(key.value, sheet)
        queue.shift()
      } catch (refused) {
        if (!(refused instanceof Refusal) || refused.status === 503) {
          footing.notSaved(`Not saved: ${(refused as Error).message}`)
          busy = false
          return
        }
        queue.shift()
        const cell = `${next.line}|${next.edit.date}`
        wrong.set(cell, { text: next.edit.text, said: refused.problem.errors?.[0]?.message ?? refused.message })
        if (refused.status === 409) void queries.invalidateQueries({ queryKey: key.value })
      }
    }
    busy = false
    if (wrong.size > 0) footing.notSaved(`${wrong.size} to put right`)
    else footing.saved()
    for (const other of ['footing', 'bill', 'jobs', 'today', 'approve', 'workings'])
      void queries.invalidateQueries({ queryKey: [other] })
  }
  useIntervalFn(() => queue.length > 0 && void sendAll(), 3000)

  /** Takes what was typed into a cell; it is sent at once, or when the connection is back. */
  function type(line: SheetLine, cell: Cell, text: string, billable = line.billable) {
    wrong.delete(`${line.key}|${cell.date}`)
    queue.push({
      line: line.key,
      edit: {
        key: cell.entryId ? undefined : newKey(),
        entryId: cell.entryId,
        version: cell.version,
        workerId: line.worker.id,
        jobId: line.job.id,
        phaseId: line.phase?.id,
        costCodeId: line.costCode?.id,
        billable,
        payClass: line.payClass,
        date: cell.date,
        text,
      },
    })
    void sendAll()
  }

  function setBillable(line: SheetLine, billable: boolean) {
    for (const cell of line.cells ?? []) if (cell.entryId && !cell.locked) type(line, cell, cell.text, billable)
  }

  async function handIn() {
    queries.setQueryData(key.value, await answered(client.POST('/api/time/hand-in', { body: query.value })))
    for (const other of ['approve', 'bill', 'today']) void queries.invalidateQueries({ queryKey: [other] })
  }

  return { sheet: data, lines, error, isLoading, crew, wrong, added, type, setBillable, handIn }
}

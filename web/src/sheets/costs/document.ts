import { useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, toRaw, watch } from 'vue'
import { answered, client, newKey, Refusal, type Schema } from '@/api/client'
import { refresh } from '@/api/keys'
import { inWords } from '@/parts/figures'
import { useFooting } from '@/book/footing'
import { ownRates } from './prices'
import { copyOf, useUnsaved } from './unsaved'

export type Document = Schema['Document']
export type Line = Schema['Line']

export function blankLine(job?: number): Line {
  return {
    category: 'material',
    description: '',
    quantity: '',
    unit: '',
    unitCost: '',
    billable: true,
    taxable: true,
    jobId: job,
  }
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

const keys = new WeakMap<object, number>()
let last = 0
/** Tells the lines of a paper on the screen apart, wherever they stand in it. */
export function lineKey(line: Line): number {
  const raw = toRaw(line)
  if (!keys.has(raw)) keys.set(raw, ++last)
  return keys.get(raw)!
}

const blank = (l: Line) => !l.description && !l.unitCost && !l.quantity

const lineText = (l: Line) =>
  [
    l.description,
    `${l.quantity || '1'} ${l.unit}`.trim(),
    l.unitCost && `at ${l.unitCost}`,
    l.job && `job ${l.job.code}`,
  ]
    .filter(Boolean)
    .join(', ')

/** Where two versions of a paper differ, in words: head by field, lines by number. */
export function differences(mine: Document, theirs: Document): { what: string; mine: string; theirs: string }[] {
  const sum = (text?: string) => (text && Number(text) !== 0 ? text : '')
  const head = (['supplier', 'date', 'number', 'freight', 'tax', 'printed', 'note'] as const).map((field) => {
    const of = (d: Document) => (field === 'freight' || field === 'tax' ? sum(d[field]) : (d[field] ?? ''))
    return { what: field === 'number' ? 'their number' : field, mine: of(mine), theirs: of(theirs) }
  })
  const ours = (mine.lines ?? []).filter((l) => !blank(l))
  const others = theirs.lines ?? []
  const lines = Array.from({ length: Math.max(ours.length, others.length) }, (_, i) => ({
    what: `line ${i + 1}`,
    mine: ours[i] ? lineText(ours[i]) : '',
    theirs: others[i] ? lineText(others[i]) : '',
  }))
  const alike = (a: string, b: string) => a === b || (a !== '' && b !== '' && Number(a) === Number(b))
  return [...head, ...lines].filter((row) => !alike(row.mine, row.theirs))
}

/** A document in hand: what is typed, what it comes to as the server works it out, and what is wrong with it. */
export function useDocument() {
  const queries = useQueryClient()
  const footing = useFooting()
  const unsaved = useUnsaved()
  const typed = ref<Document>()
  const shown = ref<Document>()
  const wrong = ref<Record<string, string>>({})
  const said = ref('')
  const busy = ref(false)
  const changed = ref(false)
  /** The paper as somebody else saved it meanwhile. */
  const theirs = ref<Document>()
  const locked = computed(() => typed.value?.locked ?? '')
  /** What would be sent of the paper as it was opened. */
  let clean = ''

  /** What is sent: lines that nothing was typed into are left out, so paths are mapped back to the rows on screen. */
  function sent(without: number[] = []): { body: Document; rows: number[] } {
    const d = typed.value!
    const rows = (d.lines ?? []).map((_, i) => i).filter((i) => !blank(d.lines![i]!) && !without.includes(i))
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

  /** What was sent when it was refused last: what that said stays until something else is typed. */
  let refusedAs = ''
  let asked = 0
  /** What the paper comes to. Where a line can't be worked out, the others are, and the sums are of those. */
  async function workOut(without: number[] = []): Promise<void> {
    const paper = typed.value
    if (!paper || locked.value) return
    const { body, rows } = sent(without)
    if (!rows.length || !body.date) return
    const turn = ++asked
    const late = () => turn !== asked || typed.value !== paper
    // It may be refused while this is asked.
    const kept = () => without.length > 0 || JSON.stringify(body) === refusedAs
    try {
      const answer = await answered(
        client.POST('/api/costs/preview', { body: { ...body, supplier: body.supplier || '?' } }),
      )
      if (late()) return
      const lines: Line[] = (paper.lines ?? []).map(() => blankLine())
      rows.forEach((row, i) => (lines[row] = answer.lines![i]!))
      shown.value = { ...answer, lines }
      if (!kept()) wrong.value = {}
    } catch (refused) {
      if (late()) return
      if (!kept()) wrong.value = fields(refused, rows)
      const bad = Object.keys(wrong.value).flatMap((path) => /^lines\[(\d+)\]/.exec(path)?.[1] ?? [])
      if (bad.length && !without.length) await workOut(bad.map(Number))
    }
  }
  const preview = useDebounceFn(() => workOut(), 220)

  /** Takes a paper in hand: as it was typed and not saved, where it was. */
  function open(d: Document, asTyped = true) {
    const now = typed.value
    if (!asTyped && !changed.value && now && now.id === d.id && now.version === d.version) {
      // Read again, and the same: its lines stay as they are, with whatever is open in them.
      Object.assign(now, { attachments: d.attachments })
      shown.value = d
      return
    }
    const mine = asTyped ? unsaved.of(d) : undefined
    typed.value = copyOf(d)
    clean = JSON.stringify(sent().body)
    if (mine) typed.value = copyOf(mine)
    shown.value = d
    wrong.value = {}
    said.value = refusedAs = ''
    changed.value = !!mine
    theirs.value = undefined
    if (mine) footing.notSaved('1 paper not saved')
  }
  function edited() {
    // A field that is left tells that it was changed, also where it is as it was.
    if (!changed.value && JSON.stringify(sent().body) === clean) return
    changed.value = true
    unsaved.keep(typed.value!)
    footing.notSaved('1 paper not saved')
    void preview()
  }
  /** Drops what is typed: the paper is as the book has it again, or none where the book has none. */
  async function drop(): Promise<boolean> {
    const d = typed.value!
    const path = d.id && { id: d.id }
    try {
      const book = path ? await answered(client.GET('/api/costs/{id}', { params: { path } })) : undefined
      unsaved.forget(d)
      footing.saved()
      typed.value = undefined
      if (book) open(book)
      return true
    } catch (refused) {
      said.value = inWords((refused as Error).message)
      return false // what was typed stays: there is nothing to show in its place
    }
  }
  watch(typed, () => void preview())
  // Plant and mileage have our own rates by date: a rate that was the list's follows the date of the paper.
  watch([typed, () => typed.value?.date], ([paper, now], [before, was]) => {
    if (!paper || paper !== before || now === was) return
    for (const [i, line] of (paper.lines ?? []).entries()) {
      const listed = shown.value?.lines?.[i]?.listed
      if (!line.itemId || !listed || !ownRates.includes(line.category)) continue
      if (line.unitCost === listed.unitCost) line.unitCost = ''
      if (line.sellPrice === listed.sellPrice) line.sellPrice = ''
    }
  })
  function takeTheirs() {
    if (!theirs.value) return
    unsaved.forget(theirs.value)
    open(theirs.value)
  }
  async function saveMine() {
    if (!typed.value || !theirs.value) return undefined
    Object.assign(typed.value, { id: theirs.value.id, version: theirs.value.version })
    theirs.value = undefined
    return save()
  }

  async function act(call: (rows: number[], body: Document) => Promise<Document>) {
    const paper = typed.value
    if (!paper || busy.value) return undefined
    const { body, rows } = sent()
    const before = JSON.stringify(body)
    busy.value = true
    said.value = ''
    try {
      const saved = await call(rows, body)
      unsaved.forget(body)
      footing.saved()
      if (typed.value !== paper) return undefined // another paper is open by now
      if (JSON.stringify(sent().body) === before) open(saved)
      else goOn(paper, saved, rows)
      void refresh(queries, 'papers')
      return saved
    } catch (refused) {
      if (typed.value !== paper) return undefined
      refusedAs = before
      wrong.value = fields(refused, rows)
      said.value = inWords((refused as Error).message)
      if (refused instanceof Refusal && refused.status === 409 && refused.problem.current)
        theirs.value = refused.problem.current as Document
      return undefined
    } finally {
      busy.value = false
    }
  }
  /** What was typed while the paper was on its way stays typed, on the version that was saved. */
  function goOn(paper: Document, saved: Document, rows: number[]) {
    Object.assign(paper, { id: saved.id, version: saved.version, status: saved.status })
    rows.forEach((row, i) => paper.lines?.[row] && (paper.lines[row]!.id = saved.lines?.[i]?.id))
    edited()
  }
  const put = (body: Document) => answered(client.PUT('/api/costs', { body }))
  const save = () => act((_, body) => put(body))
  /** What is typed is saved first, which is told, so that it stays where it can't be handed in. */
  async function handIn(told: (saved: Document) => unknown = () => undefined) {
    if (changed.value || !typed.value?.id) {
      const saved = await save()
      if (!saved) return undefined
      await told(saved)
    }
    return act((_, { id, version }) =>
      answered(client.POST('/api/costs/{id}/hand-in', { params: { path: { id: id! } }, body: { version: version! } })),
    )
  }

  const state = { typed, shown, wrong, said, busy, changed, locked, theirs, unsaved }
  return { ...state, open, edited, drop, save, handIn, takeTheirs, saveMine }
}

<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { Schema } from '@/api/client'
import { useUndo } from '@/book/undo'
import Ledger from '@/parts/Ledger.vue'
import { counted, billedNames, less, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import DepositsOn from './DepositsOn.vue'
import HeadForm, { headOf } from './HeadForm.vue'
import MoveForm from './MoveForm.vue'
import PartForm from './PartForm.vue'
import TypedForm from './TypedForm.vue'
import { useDraft, type Head } from './draft'
import { partOf, rowsOf, told, type DraftRow, type Part, type Typed } from './parts'

/**
 * What can go on a draft: each work, how much of it is billed, and what becomes of the rest; and what is typed on it. Until it is issued all
 * of it can be undone.
 */
const props = defineProps<{
  invoice: Schema['InvoiceView']
  /** The other drafts of the customer. */
  others: Schema['DraftRow'][]
}>()
const draft = useDraft(() => props.invoice)
const { busy, said } = draft
const undo = useUndo()
const rows = computed(() => rowsOf(props.invoice))
const opened = ref('')
const chosen = ref<(string | number)[]>([])
const picked = computed(() => rows.value.filter((r) => r.typed === undefined && chosen.value.includes(r.key)))
const many = ref(false)
const moving = ref(false)
const onIt = computed(() => picked.value.filter((r) => r.on))
/** What is typed anew. */
const adding = ref<Typed>()
const heading = ref(false)
const line = (): Typed => ({ kind: 'line', job: props.invoice.jobs?.[0] ?? '', category: 'other', text: '' })
const discount = (): Typed => ({ kind: 'discount', text: 'Discount', percent: '' })
function close() {
  opened.value = ''
  many.value = false
  moving.value = false
  adding.value = undefined
  heading.value = false
}
/** One form is open above the list at a time. */
function ask(what: Typed | 'head') {
  close()
  if (what === 'head') heading.value = true
  else adding.value = what
}
function begin() {
  close()
  chosen.value = []
  draft.clear()
  undo.forget()
}
watch(() => props.invoice.id, begin, { immediate: true })
onBeforeUnmount(undo.forget)

const put = draft.parts
/** How the work was billed before it was changed is remembered. */
function did(view: Schema['InvoiceView'], parts: Part[], together = '') {
  const of = rows.value.filter((r) => parts.some((p) => r.typed === undefined && p.kind === r.kind && p.id === r.id))
  const was = of.map(partOf)
  draft.did(view, {
    what: of.length === 1 ? `billing ${of[0]!.text}` : `billing ${counted(of.length, 'source')}`,
    send: () => put(parts, together),
    back: () => put(was),
  })
  close()
  chosen.value = []
}
function movedOff() {
  close()
  chosen.value = []
}
async function set(of: DraftRow[], way: Part['way']) {
  const parts = of.map(({ kind, id }) => ({ kind, id, way }))
  const view = await draft.act(() => put(parts))
  if (view) did(view, parts)
}

const typed = () => draft.latest().typed ?? []
const without = (at: number) => typed().filter((_, i) => i !== at)
const withOne = (at: number, t: Typed) => (at < 0 ? [...typed(), t] : typed().map((had, i) => (i === at ? t : had)))
/** All that was typed stands as it was, or as it is now. */
function didType(view: Schema['InvoiceView'], what: string) {
  const was = props.invoice.typed ?? []
  const now = view.typed ?? []
  draft.did(view, { what, send: () => draft.lines(now), back: () => draft.lines(was) })
  close()
}
function didHead(view: Schema['InvoiceView'], head: Head) {
  const was = headOf(props.invoice)
  draft.did(view, { what: 'dates and texts', send: () => draft.head(head), back: () => draft.head(was) })
  close()
}
async function remove(row: DraftRow) {
  const view = await draft.act(() => draft.lines(without(row.typed!)))
  if (view) didType(view, `deleting ${row.text}`)
}
const some = (of: (r: DraftRow) => string | undefined) => rows.value.some((r) => !!of(r))
const crowded = computed(() => some((r) => r.later) || some(written))
const columns = computed<Column<DraftRow>[]>(() => [
  {
    id: 'what',
    label: 'What can go on it',
    value: (r) => r.text,
    sub: (r) => told(r) || [r.date && shortDay(r.date), r.detail].filter(Boolean).join(' · '),
    tone: (r) => (r.on ? '' : 'soft'),
  },
  {
    id: 'quantity',
    label: 'Quantity',
    width: 92,
    value: (r) => r.quantity,
    hideBelow: crowded.value ? 1500 : 1180,
    tone: 'soft',
  },
  {
    id: 'toBill',
    label: 'To bill',
    kind: 'money',
    width: 92,
    value: (r) => r.toBill,
    rule: true,
    total: true,
    hideBelow: 1100,
  },
  { id: 'amount', label: 'On invoice', kind: 'money', width: 96, value: (r) => r.amount, total: true, tone: 'strong' },
  ...(some((r) => r.later)
    ? [{ id: 'later', label: 'Later', kind: 'money', width: 88, value: later, total: true, tone: 'soft' } as const]
    : []),
  ...(some(written) ? [{ ...upDown, value: written, tone: warn } as const] : []),
  { id: 'acts', label: 'Change', width: 82, value: () => '', acts: true },
])
const upDown = { id: 'down', label: 'Up, down', kind: 'money', width: 88, total: true, hideBelow: 1100 } as const
const later = (r: DraftRow) => r.later
const warn = () => 'warnword' as const
/** What is written down is below 0, what is written up above. */
function written(r: DraftRow) {
  if (r.down) return less(r.down)
  return r.up ?? ''
}
const groups = [
  'labour',
  'material',
  'equipment',
  'subcontract',
  'expense',
  'mileage',
  'fixed',
  'other',
  'deposit',
  'discount',
]
const groupNames: Record<string, string> = { ...billedNames, discount: 'Discounts' }
const sorted = computed(() => rows.value.toSorted((a, b) => groups.indexOf(a.category) - groups.indexOf(b.category)))
</script>

<template>
  <Ledger
    v-model:chosen="chosen"
    name="draft-sources"
    label="What can go on it"
    of="source"
    :columns="columns"
    :rows="sorted"
    :row-key="(r) => r.key"
    :row-name="(r) => r.text"
    :group-by="(r) => groupNames[r.category] ?? r.category"
    :row-class="(r) => (r.on ? '' : 'off')"
    :opened="opened"
    chooses
    opens
    @open="(r) => (opened = opened === r.key ? '' : r.key)"
  >
    <template #tools>
      <h2 class="strong one-line" :class="{ sr: picked.length }">On this draft</h2>
      <template v-if="picked.length">
        <v-btn class="small" :disabled="busy" @click="set(picked, 'rest')">Bill {{ picked.length }}</v-btn>
        <v-btn class="small" :disabled="busy" @click="set(picked, 'none')">Remove</v-btn>
        <v-btn class="small" @click="many = true">Change {{ picked.length }}</v-btn>
        <v-btn v-if="onIt.length" class="small" :aria-expanded="moving" @click="moving = !moving"
          >Move {{ onIt.length }}</v-btn
        >
      </template>
      <template v-else>
        <template v-if="!invoice.isDeposit">
          <v-btn class="small" @click="ask(line())">Add a line</v-btn>
          <v-btn class="small" @click="ask(discount())">Discount</v-btn>
        </template>
        <v-btn class="small" @click="ask('head')">Dates and texts</v-btn>
      </template>
      <span class="said" role="alert">{{ said }}</span>
    </template>
    <template #above>
      <HeadForm v-if="heading" :invoice="invoice" :send="draft.head" @done="didHead" @close="close" />
      <TypedForm
        v-if="adding"
        :key="adding.kind"
        :typed="adding"
        :jobs="invoice.jobs ?? []"
        :customer="invoice.customerName"
        submit="Add"
        :send="(t) => draft.lines(withOne(-1, t))"
        @done="(view, t) => didType(view, `adding ${t.text}`)"
        @close="adding = undefined"
      />
      <DepositsOn v-if="!invoice.isDeposit && invoice.deposits?.length" :invoice="invoice" :draft="draft" />
      <MoveForm
        v-if="moving && onIt.length"
        :rows="onIt"
        :others="others"
        :draft="draft"
        @done="movedOff"
        @close="moving = false"
      />
      <PartForm
        v-if="many && picked.length"
        :key="chosen.join()"
        :rows="picked"
        :send="put"
        @done="did"
        @close="many = false"
      />
    </template>
    <template #acts="{ row }"
      ><button
        v-if="row.typed !== undefined && !invoice.isDeposit"
        class="lnk"
        :disabled="busy"
        :aria-label="`Delete ${row.text}`"
        @click.stop="remove(row)"
      >
        Delete</button
      ><button
        v-else
        class="lnk"
        :aria-label="`${row.on ? 'Change' : 'Bill'} ${row.text}`"
        @click="opened = opened === row.key ? '' : row.key"
      >
        {{ row.on ? 'Change' : 'Bill' }}
      </button></template
    >
    <template #below="{ row }"
      ><TypedForm
        v-if="row.typed !== undefined"
        :typed="invoice.typed![row.typed]!"
        :jobs="invoice.jobs ?? []"
        :customer="invoice.customerName"
        submit="Save"
        :send="(t) => draft.lines(withOne(row.typed!, t))"
        @done="(view, t) => didType(view, `changing ${t.text}`)"
        @close="opened = ''" /><PartForm v-else :rows="[row]" :send="put" @done="did" @close="opened = ''"
    /></template>
    <template #key
      ><p v-if="invoice.more" class="key soft">
        {{ counted(invoice.more, 'source') }} more can be billed of these jobs, later than these.
      </p></template
    >
  </Ledger>
</template>

<style scoped>
.one-line {
  white-space: nowrap;
}
:deep(tr.off td) {
  color: var(--ink-soft);
}
</style>

<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useUndo } from '@/book/undo'
import Ledger from '@/parts/Ledger.vue'
import { counted, kindNames, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import PartForm from './PartForm.vue'
import { partOf, rowsOf, told, type DraftRow, type Part } from './parts'

/** What can go on a draft: each work, how much of it is billed, and what becomes of the rest. Until it is issued all of it can be undone. */
const props = defineProps<{ invoice: Schema['InvoiceView'] }>()
const queries = useQueryClient()
const { busy, said, act, clear } = useAct('invoices')
const undo = useUndo()
const rows = computed(() => rowsOf(props.invoice))
const opened = ref('')
const chosen = ref<(string | number)[]>([])
const picked = computed(() => rows.value.filter((r) => chosen.value.includes(r.key)))
const many = ref(false)
function begin() {
  opened.value = ''
  chosen.value = []
  many.value = false
  clear()
  undo.forget()
}
watch(() => props.invoice.id, begin, { immediate: true })
onBeforeUnmount(undo.forget)

/** The version that is changed is the one that is shown, also where a change is taken back. */
const latest = () => queries.getQueryData<Schema['InvoiceView']>(['invoice', props.invoice.id]) ?? props.invoice
const put = (parts: Part[]) =>
  answered(
    client.PUT('/api/invoices/{id}/parts', {
      params: { path: { id: props.invoice.id } },
      body: { version: latest().version, parts },
    }),
  )
const show = (view: Schema['InvoiceView']) => queries.setQueryData(['invoice', view.id], view)
async function back(parts: Part[]) {
  const view = await act(() => put(parts))
  if (view) show(view)
}
/** Remembers how the work was billed before it was changed. */
function did(view: Schema['InvoiceView'], parts: Part[]) {
  const of = rows.value.filter((r) => parts.some((p) => p.kind === r.kind && p.id === r.id))
  const was = of.map(partOf)
  show(view)
  undo.did({
    what: of.length === 1 ? `billing ${of[0]!.text}` : `billing ${counted(of.length, 'source')}`,
    undo: () => void back(was),
    redo: () => void back(parts),
  })
  opened.value = ''
  many.value = false
  chosen.value = []
}
async function set(of: DraftRow[], way: Part['way']) {
  const parts = of.map(({ kind, id }) => ({ kind, id, way }))
  const view = await act(() => put(parts))
  if (view) did(view, parts)
}
const some = (of: (r: DraftRow) => string | undefined) => rows.value.some((r) => !!of(r))
const crowded = computed(() => some((r) => r.later) || some(written))
const columns = computed<Column<DraftRow>[]>(() => [
  {
    id: 'what',
    label: 'What can go on it',
    value: (r) => r.text,
    sub: (r) => told(r) || [shortDay(r.date), r.detail].filter(Boolean).join(' · '),
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
  if (r.down) return r.down.startsWith('-') ? r.down.slice(1) : `-${r.down}`
  return r.up ?? ''
}
const groups = ['labour', 'material', 'equipment', 'subcontract', 'expense', 'mileage']
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
    :group-by="(r) => kindNames[r.category] ?? r.category"
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
        <v-btn class="small" :disabled="busy" @click="set(picked, 'none')">Take off</v-btn>
        <v-btn class="small" @click="many = true">Change {{ picked.length }}</v-btn>
      </template>
      <span class="said" role="alert">{{ said }}</span>
    </template>
    <template #above>
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
        class="lnk"
        :aria-label="`${row.on ? 'Change' : 'Bill'} ${row.text}`"
        @click="opened = opened === row.key ? '' : row.key"
      >
        {{ row.on ? 'Change' : 'Bill' }}
      </button></template
    >
    <template #below="{ row }"><PartForm :rows="[row]" :send="put" @done="did" @close="opened = ''" /></template>
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

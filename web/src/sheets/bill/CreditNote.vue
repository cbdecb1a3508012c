<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useFooting } from '@/book/footing'
import Await from '@/parts/Await.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import PaperInvoice from '@/parts/PaperInvoice.vue'
import SumTable from '@/parts/SumTable.vue'
import SureButton from '@/parts/SureButton.vue'
import { counted, figure, less, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import CreditForm from './CreditForm.vue'
import { allOf, becomesNames, keyOf, withLine, type Creditable, type Line } from './credit'

/** A credit note on an issued invoice: which lines, how much of them, and what becomes of it. The note is read before it is issued. */
const props = defineProps<{ invoice: Schema['InvoiceView']; today: string }>()
const emit = defineEmits<{ done: [note: Schema['InvoiceView']]; close: [] }>()
const footing = useFooting()
const { busy, said, once } = useAct('everything')
const date = ref(props.today < props.invoice.date ? props.invoice.date : props.today)
const text = ref('')
const lines = ref<Line[]>([])
const opened = ref('')
const on = () => ({ path: { id: props.invoice.id } })
const asked = useQuery({
  queryKey: ['invoice', props.invoice.id, 'creditable'],
  queryFn: () => answered(client.GET('/api/invoices/{id}/credit', { params: on() })),
})
const rows = computed(() => asked.data.value ?? [])
const of = (r: Creditable) => lines.value.find((l) => keyOf(l) === keyOf(r))

/** What a note would be, and do: it is made and taken back. */
const tried = (some: Line[]) =>
  answered(
    client.POST('/api/invoices/{id}/credit', {
      params: { ...on(), query: { try: true } },
      body: { key: 'only-to-look-at', date: date.value, text: text.value, lines: some },
    }),
  )
/** Not with every letter that is typed: it takes the book's one writer. */
const head = refDebounced(
  computed(() => `${date.value} ${text.value}`),
  400,
)
const look = useQuery({
  queryKey: ['invoice', props.invoice.id, 'credit', lines, head],
  queryFn: () => tried(lines.value),
  enabled: () => lines.value.length > 0,
  placeholderData: keepPreviousData,
  retry: false,
})
const note = computed(() => (lines.value.length && !look.isError.value ? look.data.value : undefined))
watchEffect(() =>
  footing.show(
    `Credit on ${props.invoice.number}`,
    [
      { label: 'Credited', value: note.value?.note.subtotal },
      { label: 'Tax', value: note.value?.note.tax },
      { label: 'Retainage', value: note.value?.note.retainage },
      { label: 'Off the balance', value: note.value?.note.dueNow },
      { label: 'Bill again', value: note.value?.again },
      { label: 'Allowed', value: note.value?.down },
    ].map((f) => ({ ...f, value: f.value ?? '0' })),
  ),
)
async function issue() {
  const body = { date: date.value, text: text.value, lines: lines.value }
  const made = await once(body, (keyed) =>
    answered(client.POST('/api/invoices/{id}/credit', { params: on(), body: keyed })),
  )
  if (made) emit('done', made.note)
}
function set(row: Creditable, line?: Line) {
  lines.value = withLine(lines.value, row, line)
  opened.value = ''
}
const amount = (r: Creditable) => {
  const line = of(r)
  return line ? line.amount || r.left : ''
}
/** Of a deposit and of a release nothing was billed, so nothing becomes of it. */
const nothing = props.invoice.isDeposit || props.invoice.release
const partly = computed(() => rows.value.some((r) => r.left !== r.amount))
const columns = computed<Column<Creditable>[]>(() => [
  {
    id: 'what',
    label: 'Line as invoiced',
    value: (r) => r.text,
    sub: (r) => of(r)?.reason || [shortDay(r.date), r.detail].filter(Boolean).join(' · '),
  },
  { id: 'quantity', label: 'Quantity', width: 88, value: (r) => r.quantity ?? '', hideBelow: 1180, tone: 'soft' },
  { id: 'amount', label: 'Invoiced', kind: 'money', width: 96, value: (r) => r.amount, total: true, rule: true },
  ...(partly.value
    ? [{ id: 'left', label: 'Left', kind: 'money', width: 96, value: (r: Creditable) => r.left, total: true } as const]
    : []),
  { id: 'credit', label: 'Credit', kind: 'money', width: 96, value: amount, total: true, tone: 'strong', rule: true },
  {
    id: 'becomes',
    label: 'What becomes of it',
    width: 130,
    value: (r) => (of(r) && !nothing ? becomesNames[of(r)!.becomes] : ''),
    hideBelow: 1100,
  },
  { id: 'acts', label: 'Change', width: 76, value: () => '', acts: true },
])
const balance = computed(() => {
  const n = note.value
  if (!n) return []
  return [
    { what: `Balance of ${props.invoice.number} now`, texts: [figure(n.before)] },
    ...(Number(n.note.subtotal) ? [{ what: 'credited, before tax', texts: [figure(less(n.note.subtotal))] }] : []),
    ...(Number(n.note.tax) ? [{ what: 'tax on it, as it was charged', texts: [figure(less(n.note.tax))] }] : []),
    ...(Number(n.note.retainage)
      ? [
          {
            what: props.invoice.release ? 'retainage that is held again' : 'retainage no longer held',
            texts: [figure(n.note.retainage)],
          },
        ]
      : []),
    ...(Number(n.credit) ? [{ what: 'paid beyond that: the customer’s credit', texts: [figure(n.credit)] }] : []),
    { what: 'Balance after', texts: [figure(n.after)], sum: true },
  ]
})
</script>

<template>
  <div class="split credit">
    <section>
      <Teleport to="#bill-acts">
        <span class="said" role="alert">{{ said }}</span>
        <v-btn
          :disabled="!rows.length"
          @click="lines = allOf(rows, invoice.isDeposit ? 'allowed' : 'again', lines[0]?.reason)"
          >Credit all of it</v-btn
        >
        <v-btn @click="emit('close')">Cancel</v-btn>
        <SureButton
          label="Issue credit note"
          sure="It takes the next number and never changes."
          go
          :busy="busy"
          :disabled="!note"
          @sure="issue"
        />
      </Teleport>
      <div class="form-row">
        <FormField v-model="date" label="Dated" kind="date" />
        <FormField v-model="text" label="What it says at its head" size="wide" />
      </div>
      <p v-if="look.isError.value && lines.length" class="said padded" role="alert">{{ look.error.value?.message }}</p>
      <Await :of="asked" what="what can be credited">
        <Ledger
          name="creditable"
          label="What can be credited"
          of="line"
          :columns="columns"
          :rows="rows"
          :row-key="keyOf"
          :row-name="(r) => r.text"
          :group-by="(r) => r.line"
          :opened="opened"
          opens
          @open="(r) => (opened = opened === keyOf(r) ? '' : keyOf(r))"
        >
          <template #tools
            ><h2 class="strong">Credit on invoice {{ invoice.number }}</h2></template
          >
          <template #acts="{ row }"
            ><button
              v-if="Number(row.left)"
              class="lnk"
              :aria-label="`${of(row) ? 'Change' : 'Credit'} ${row.text}`"
              @click.stop="opened = opened === keyOf(row) ? '' : keyOf(row)"
            >
              {{ of(row) ? 'Change' : 'Credit' }}</button
            ><span v-else class="soft">credited</span></template
          >
          <template #below="{ row }"
            ><CreditForm
              v-if="Number(row.left)"
              :row="row"
              :line="of(row)"
              :nothing="nothing"
              :tried="(line) => tried(withLine(lines, row, line))"
              @done="(line) => set(row, line)"
              @clear="set(row)"
              @close="opened = ''"
          /></template>
        </Ledger>
      </Await>
      <SumTable v-if="note" :rows="balance" label="What it does to the balance" class="does" />
    </section>
    <section class="desktop" tabindex="0" aria-label="As the customer will read it">
      <template v-if="note">
        <p class="bar soft">
          The note as the customer will read it.
          <template v-if="Number(note.again)">{{ figure(note.again) }} will be ready to bill again.</template>
        </p>
        <PaperInvoice :invoice="note.note" />
      </template>
      <p v-else class="bar soft">
        Choose what is credited of {{ counted(rows.length, 'line') }}; the note is shown here.
      </p>
    </section>
  </div>
</template>

<style scoped>
.credit {
  grid-template-columns: minmax(0, 1fr) minmax(0, 34rem);
}
.desktop {
  background: var(--canvas);
  padding: 0 22px 22px;
  align-items: center;
}
.bar {
  align-self: stretch;
  padding: 12px 0;
}
.padded {
  padding: 6px 16px;
}
.does {
  margin: 10px 16px 14px;
  max-width: 26rem;
}
@media (max-width: 1180px) {
  .credit {
    grid-template-columns: minmax(0, 1fr) minmax(0, 26rem);
  }
}
</style>

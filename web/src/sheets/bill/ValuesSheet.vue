<script setup lang="ts">
import { local } from '@/book/english'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import Await from '@/parts/Await.vue'
import FigureInput from '@/parts/FigureInput.vue'
import OrMeant from '@/parts/OrMeant.vue'
import Ledger from '@/parts/Ledger.vue'
import PaperInvoice from '@/parts/PaperInvoice.vue'
import ProgressBar from '@/parts/ProgressBar.vue'
import SureButton from '@/parts/SureButton.vue'
import { figure, longDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { readNumber } from '@/parts/reading'
import InstalmentForm from './InstalmentForm.vue'
import ScheduleForm from './ScheduleForm.vue'

/** A fixed price, billed by how far it has come: a row a line of its schedule, percent typed at the end of its bar. */
const scope = useScope()
const footing = useFooting()
const queries = useQueryClient()
const { busy, said, wrong, act, clear } = useAct('everything')
const job = computed(() => scope.job.value)
const asked = useQuery({
  queryKey: ['bill', 'schedule', job],
  queryFn: () => answered(client.GET('/api/jobs/{number}/schedule', { params: { path: { number: job.value } } })),
  enabled: () => !!job.value,
})
const schedule = asked.data
const draftId = computed(() => schedule.value?.draftId)
const draft = useQuery({
  queryKey: ['invoice', draftId],
  queryFn: () => answered(client.GET('/api/invoices/{id}', { params: { path: { id: draftId.value! } } })),
  enabled: () => !!draftId.value,
})
/** How far the work is by what it cost, part by part. */
const folder = useQuery({
  queryKey: ['jobs', job],
  queryFn: () => answered(client.GET('/api/jobs/{number}', { params: { path: { number: job.value } } })),
  enabled: () => !!job.value,
})
const costSays = computed(() =>
  (folder.data.value?.plan.parts ?? []).map((p) => ({
    name: p.name,
    text: p.done
      ? `${figure(p.done)} % done: ${figure(p.cost)} of ${figure(p.expected)} expected is spent`
      : 'not measured, it has no budget',
  })),
)
type Row = Schema['ScheduleRow']
const form = ref<'schedule' | 'instalments'>()
function show(now: Schema['Schedule']) {
  queries.setQueryData(['bill', 'schedule', job.value], now)
  form.value = undefined
}
watchEffect(() => {
  const s = schedule.value
  footing.show(
    s ? `${s.job}, fixed price` : 'Fixed price',
    s
      ? [
          { label: 'Contract', value: s.contract },
          { label: 'Billed before', value: s.before },
          { label: 'Now', value: s.now },
          { label: 'Left', value: s.left },
          { label: 'Retained', value: s.retained },
          { label: 'Whole job at', value: `${figure(s.done)} %` },
        ]
      : [],
  )
})

/** The row that was typed into last: what the book says is wrong stands under it. */
const last = ref<number>()
const sent = ref<Schema['ProgressOf'][]>([])
async function bill(lines: Schema['ProgressOf'][], beyond = false) {
  const s = schedule.value!
  sent.value = lines
  const now = await act(() =>
    answered(
      client.PUT('/api/jobs/{number}/progress', {
        params: { path: { number: s.job } },
        body: { draft: s.draftId, version: s.draftVersion, date: scope.today.value, lines, beyond },
      }),
    ),
  )
  if (now) show(now)
}
function typed(row: Row, field: 'percent' | 'stored', value = '') {
  const had = { percent: row.complete ?? '', stored: row.stored ?? '' }
  if (value === had[field] && row.on) return
  if (value === had[field] && !value) return
  last.value = row.id
  void bill([
    field === 'percent' ? { line: row.id, percent: value, keep: true } : { line: row.id, ...had, stored: value },
  ])
}
/** What was typed, as the book writes it. */
const figureOf = (event: Event) => {
  const text = (event.target as HTMLInputElement).value
  return text.trim() ? (readNumber(text) ?? text) : ''
}
const all = ref('')
async function typeAll() {
  last.value = undefined
  await bill((schedule.value?.lines ?? []).map((l) => ({ line: l.id, percent: all.value, keep: true })))
  all.value = ''
}
const amount = ref('')
const doubt = ref<string>()
async function typeAmount() {
  last.value = undefined
  await bill([{ line: 0, amount: amount.value }])
  amount.value = ''
}
const takeOff = (row: Row) => bill([{ line: row.id }])
const why = computed(
  () =>
    wrong.value.beyond ??
    Object.entries(wrong.value).find(([path]) => path.startsWith('lines['))?.[1] ??
    (Object.keys(wrong.value).length ? said.value : ''),
)
const columns: Column<Row>[] = [
  { id: 'text', label: 'Line', value: (r) => r.text, sub: (r) => r.phase ?? '' },
  { id: 'amount', label: 'Contract', kind: 'money', width: 94, value: (r) => r.amount, total: true, rule: true },
  { id: 'bar', label: 'Before, now, left', width: 110, value: () => '', hideBelow: 1180 },
  { id: 'complete', label: '% done', width: 76, value: (r) => r.complete ?? '' },
  {
    id: 'stored',
    label: 'Stored',
    width: 96,
    value: (r) => r.stored ?? '',
    title: 'materials that are not built in yet',
  },
  { id: 'before', label: 'Before', kind: 'money', width: 94, value: (r) => r.before, total: true, rule: true },
  { id: 'now', label: 'Now', kind: 'money', width: 94, value: (r) => r.now, total: true, tone: 'strong' },
  { id: 'left', label: 'Left', kind: 'money', width: 94, value: (r) => r.left, total: true, hideBelow: 1100 },
  {
    id: 'retained',
    label: 'Retained',
    kind: 'money',
    width: 90,
    value: (r) => r.retained,
    total: true,
    tone: 'soft',
    hideBelow: 1480,
  },
]
type Instalment = Schema['InstalmentRow']
const instalments: Column<Instalment>[] = [
  { id: 'text', label: local('Instalment'), value: (n) => n.text },
  {
    id: 'due',
    label: 'Due',
    width: 180,
    value: (n) => (n.due ? longDay(n.due) : n.reached ? `reached ${longDay(n.reached)}` : 'at its milestone'),
  },
  { id: 'amount', label: 'Amount', kind: 'money', width: 110, value: (n) => n.amount, total: true, rule: true },
  { id: 'billed', label: 'Billed', kind: 'money', width: 110, value: (n) => n.billed, total: true },
]
</script>

<template>
  <div class="split values">
    <section>
      <Teleport defer to="#bill-acts">
        <template v-if="schedule">
          <v-btn :aria-pressed="form === 'schedule'" @click="form = form === 'schedule' ? undefined : 'schedule'"
            >Schedule of values</v-btn
          >
          <v-btn
            :aria-pressed="form === 'instalments'"
            @click="form = form === 'instalments' ? undefined : 'instalments'"
            >{{ local('Instalments') }}</v-btn
          >
          <v-btn v-if="draftId" class="go" @click="scope.change({ list: 'drafts', open: String(draftId) })"
            >Open draft</v-btn
          >
        </template>
      </Teleport>
      <p v-if="!job" class="empty soft">Choose a job with a fixed price under Where.</p>
      <Await v-else v-slot="{ data }" :of="asked" what="the fixed price">
        <ScheduleForm v-if="form === 'schedule'" :schedule="data" @done="show" @close="form = undefined" />
        <InstalmentForm v-if="form === 'instalments'" :schedule="data" @done="show" @close="form = undefined" />
        <Ledger
          name="values"
          label="Lines of the fixed price"
          of="line"
          :columns="columns"
          :rows="data.lines ?? []"
          :row-key="(r) => r.id"
          :row-name="(r) => r.text"
          :under="(r) => r.id === last && !!why"
        >
          <template #tools>
            <h2 class="strong">{{ data.placed ? 'Schedule of values' : 'As a whole' }}</h2>
            <form class="one" @submit.prevent="typeAll">
              <label>All at <FigureInput v-model="all" aria-label="All lines at, percent" /> %</label>
              <v-btn class="small" type="submit" :disabled="busy || !all">Set all</v-btn>
            </form>
            <form v-if="!data.placed" class="one" @submit.prevent="typeAmount">
              <label
                >or an amount
                <FigureInput v-model="amount" class="wide" aria-label="Amount to bill" @doubt="doubt = $event"
              /></label>
              <OrMeant :other="doubt" @meant="((amount = $event), (doubt = undefined))" />
              <v-btn class="small" type="submit" :disabled="busy || !amount">Bill it</v-btn>
            </form>
          </template>
          <template #above>
            <p v-if="why && last === undefined" class="said padded" role="alert">
              {{ why }}
              <SureButton
                v-if="wrong.beyond"
                label="Bill beyond the contract"
                sure="It is more than was agreed."
                small
                @sure="bill(sent, true)"
              />
            </p>
            <p v-else-if="said && !why" class="said padded" role="alert">{{ said }}</p>
            <p v-for="p in costSays" :key="p.name" class="padded soft">
              By its cost{{ costSays.length > 1 ? `, ${p.name},` : '' }} the work is {{ p.text }}.
            </p>
          </template>
          <template #bar="{ row }"><ProgressBar :before="row.before" :now="row.now" :all="row.amount" /></template>
          <template #complete="{ row }"
            ><FigureInput
              :model-value="row.complete ?? ''"
              class="cell"
              :aria-label="`${row.text}, percent done`"
              :aria-invalid="last === row.id && !!why"
              @change="typed(row, 'percent', figureOf($event))"
          /></template>
          <template #stored="{ row }"
            ><FigureInput
              :model-value="row.stored ?? ''"
              class="cell"
              :aria-label="`${row.text}, stored`"
              @change="typed(row, 'stored', figureOf($event))"
          /></template>
          <template #under="{ row }">
            <span class="said" role="alert">{{ why }}</span>
            <SureButton
              v-if="wrong.beyond"
              label="Bill beyond the contract"
              sure="It is more than was agreed."
              small
              @sure="bill(sent, true)"
            />
            <button class="lnk" @click="(clear(), takeOff(row))">Remove from draft</button>
          </template>
        </Ledger>
        <Ledger
          v-if="data.instalments?.length"
          name="instalments"
          :label="local('Instalments')"
          :of="local('instalment')"
          :columns="instalments"
          :rows="data.instalments"
          :row-key="(n) => n.id"
          flat
        >
          <template #tools
            ><h2 class="strong">{{ local('Instalments') }}</h2></template
          >
        </Ledger>
      </Await>
    </section>
    <section class="desktop" tabindex="0" aria-label="As the customer will read it">
      <p class="bar soft">
        {{
          draftId ? 'The draft as the customer will read it.' : 'Type how far a line has come; the draft is shown here.'
        }}
      </p>
      <PaperInvoice v-if="draftId && draft.data.value" :invoice="draft.data.value" />
    </section>
  </div>
</template>

<style scoped>
.values {
  grid-template-columns: minmax(0, 1fr) minmax(0, 28rem);
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
.one {
  display: flex;
  align-items: center;
  gap: 8px;
}
.one input {
  width: 3.5rem;
}
.one .wide {
  width: 6rem;
}
.cell,
.one input {
  height: 1.5rem;
  border: 1px solid var(--rule-strong);
  border-radius: 2px;
  background: var(--paper);
  text-align: right;
  padding: 0 6px;
}
.cell {
  width: 100%;
}
.cell[aria-invalid='true'] {
  border-color: var(--rust);
}
.padded {
  padding: 6px 16px;
}
@media (max-width: 1180px) {
  .values {
    grid-template-columns: minmax(0, 1fr);
  }
  .values > .desktop {
    display: none; /* the draft is a step away */
  }
}
</style>

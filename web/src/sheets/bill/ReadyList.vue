<script setup lang="ts">
import { computed, ref, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import { addressOf } from '@/parts/addresses'
import Amount from '@/parts/Amount.vue'
import FigureInput from '@/parts/FigureInput.vue'
import Ledger from '@/parts/Ledger.vue'
import { counted, figure, inWords, kindNames, sumOf } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import DepositList from './DepositList.vue'
import HeldWork from './HeldWork.vue'
import RetainedList from './RetainedList.vue'
import { useBillRun } from './billRun'
import StageList from './StageList.vue'

/** What is ready to bill, a row a job, and what is not ready with its reason. */
const props = defineProps<{ bill: Schema['BillSheet'] }>()
const scope = useScope()
const footing = useFooting()
const kinds = ['labour', 'material', 'equipment', 'subcontract', 'expense', 'mileage'] as const
type Kind = (typeof kinds)[number]
const chosen = ref<(string | number)[]>([])
const ready = computed(() => props.bill.ready ?? [])
/** Only what has waited so long, or comes to so much, is shown. */
const atLeast = ref({ days: '', amount: '' })
const unread = computed(() => Object.values(atLeast.value).some((typed) => Number.isNaN(Number(typed))))
const shown = computed(() =>
  ready.value.filter(
    (r) =>
      r.ageDays >= (Number(atLeast.value.days) || 0) &&
      (!atLeast.value.amount || Number(r.total) >= (Number(atLeast.value.amount) || 0)),
  ),
)
const picked = computed(() => shown.value.filter((r) => chosen.value.includes(r.jobId)))

/** Only these kinds are billed; none chosen is all of them, and instalments. */
const only = ref<Kind[]>([])
/** What of a job is billed: of the chosen kinds. */
const toBill = (r: Row) => (only.value.length ? sumOf(only.value.map((k) => r.kinds?.[k] ?? '0')) : r.total)
watchEffect(() => {
  const some = picked.value.length
  footing.show(some ? `${counted(some, 'job')} chosen` : `${counted(ready.value.length, 'job')} ready`, [
    { label: 'Ready to bill', value: some ? sumOf(picked.value.map(toBill)) : props.bill.totals.ready },
    { label: 'On drafts', value: props.bill.totals.drafts },
    { label: 'Issued', value: props.bill.totals.issued },
    { label: 'Balance', value: props.bill.totals.balance },
    { label: 'Overdue', value: props.bill.totals.overdue },
  ])
})
const there = computed(() => kinds.filter((k) => ready.value.some((r) => r.kinds?.[k])))
const toggle = (kind: Kind) =>
  (only.value = only.value.includes(kind) ? only.value.filter((k) => k !== kind) : [...only.value, kind])
const run = useBillRun()
const { busy, said, act } = run
async function make() {
  const made = await run.make([...picked.value, ...due.value], {
    kinds: only.value,
    through: scope.to.value || scope.today.value,
    date: scope.today.value,
  })
  const left = (id: string | number) => !made.jobs.includes(Number(id))
  chosen.value = chosen.value.filter(left)
  chosenStages.value = chosenStages.value.filter(left)
  if (made.all) await scope.change({ list: 'drafts', open: made.last })
}
/** Jobs with a fixed price, and what of it comes next. */
const stages = computed(() => props.bill.stages ?? [])
const chosenStages = ref<(string | number)[]>([])
const due = computed(() =>
  stages.value.filter((s) => s.ready && !only.value.length && chosenStages.value.includes(s.jobId)),
)
const jobs = computed(() => [...new Set([...picked.value.map((r) => r.jobId), ...due.value.map((s) => s.jobId)])])
function chooseAll() {
  chosen.value = shown.value.map((r) => r.jobId)
  chosenStages.value = stages.value.filter((s) => s.ready).map((s) => s.jobId)
}
const letGo = (jobId: number, amount: string) =>
  act(() =>
    answered(client.POST('/api/holds/let-go', { body: { jobId, amount, through: scope.to.value || undefined } })),
  )
type Row = Schema['ReadyRow']
/** Where something is limited, what of it is used is shown, and what says less gives way. */
const limited = computed(() => ready.value.some((r) => r.limit))
const least = computed(() => (limited.value ? 1480 : 1180))
const held = (r: Row) => (Number(r.held) ? r.held : '')
const limits = computed<Column<Row>[]>(() => [
  { id: 'limit', label: 'Limit', kind: 'money', width: 96, value: (r) => r.limit, title: 'agreed not to exceed' },
  {
    id: 'used',
    label: 'Used',
    kind: 'money',
    width: 96,
    value: (r) => r.used,
    title: 'of the limit: billed and on drafts',
    tone: (r) => (r.nearLimit ? 'warnword' : ''),
  },
  ...(ready.value.some(held)
    ? [
        {
          id: 'held',
          label: 'Held',
          kind: 'money' as const,
          width: 92,
          value: held,
          total: true,
          title: 'over the limit: billed when more is agreed',
          tone: () => 'warnword' as const,
        },
      ]
    : []),
])
const columns = computed<Column<Row>[]>(() => [
  { id: 'job', label: 'Job', value: (r) => `${r.job} ${r.name}`, sub: (r) => r.customer },
  ...kinds.map((k, i): Column<Row> => ({
    id: k,
    label: kindNames[k]!,
    kind: 'money',
    width: 96,
    value: (r) => r.kinds?.[k],
    total: true,
    rule: i === 0,
    hideBelow: k === 'mileage' || k === 'expense' ? least.value : 0,
  })),
  {
    id: 'total',
    label: 'Ready',
    kind: 'money',
    width: 104,
    value: (r) => r.total,
    total: true,
    rule: true,
    tone: 'strong',
  },
  ...(limited.value ? limits.value : []),
  {
    id: 'oldest',
    label: 'Oldest',
    kind: 'number',
    width: 84,
    value: (r) => r.ageDays,
    text: (r) => counted(r.ageDays, 'day'),
  },
  {
    id: 'billed',
    label: 'Billed to date',
    kind: 'money',
    width: 110,
    value: (r) => r.billedSoFar,
    total: true,
    rule: true,
    hideBelow: least.value,
  },
])
type Blocked = NonNullable<Schema['BillSheet']['notReady']>[number]
const blocked: Column<Blocked>[] = [
  { id: 'reason', label: 'Reason', width: 150, value: (n) => n.reason, tone: 'strong' },
  { id: 'what', label: 'Work', width: 240, value: (n) => n.what },
  { id: 'detail', label: 'Detail', value: (n) => inWords(n.detail), tone: 'soft' },
  { id: 'amount', label: 'Amount', kind: 'money', width: 120, value: (n) => n.amount },
  { id: 'cost', label: 'At', width: 80, value: (n) => (n.atCost ? 'at cost' : ''), tone: 'soft' },
  { id: 'step', label: 'Next step', width: 180, value: (n) => n.step },
]
/** The job whose held work is open, to be let go beyond its limit. */
const over = ref('')
const blockedKey = (n: Blocked) => `${n.reason} ${n.what} ${n.detail}`
const overKey = computed(() => {
  const row = props.bill.notReady?.find((n) => n.overOf && n.overOf === over.value)
  return row ? blockedKey(row) : ''
})
</script>

<template>
  <div class="listing">
    <Teleport to="#bill-acts">
      <span class="said" role="alert">{{ said }}</span>
      <v-btn :disabled="!ready.length && !stages.some((s) => s.ready)" @click="chooseAll">Choose all</v-btn>
      <v-btn class="go" :loading="busy" :disabled="!jobs.length" @click="make"
        >Make {{ jobs.length || '' }} {{ jobs.length === 1 ? 'draft' : 'drafts' }}</v-btn
      >
      <span v-if="run.of.value > 1" class="soft" role="status"
        >{{ run.done.value }} of {{ counted(run.of.value, 'customer') }}</span
      >
    </Teleport>
    <Ledger
      v-model:chosen="chosen"
      name="ready"
      label="Ready to bill"
      class="ready"
      of="job"
      :columns="columns"
      :rows="shown"
      :row-key="(r) => r.jobId"
      :row-name="(r) => `job ${r.job}`"
      chooses
    >
      <template #tools>
        <label class="least"
          >waiting <FigureInput v-model="atLeast.days" aria-label="Days waiting at least" class="few" /> days</label
        >
        <label class="least"
          >from <FigureInput v-model="atLeast.amount" aria-label="Ready at least" class="few"
        /></label>
        <span v-if="unread" class="said" role="alert">Type a number, such as 30.</span>
        <span v-if="there.length > 1" class="words kinds" role="group" aria-label="Kinds that are billed">
          <button v-for="k in there" :key="k" :aria-pressed="only.includes(k)" @click="toggle(k)">
            {{ kindNames[k] }}
          </button>
          <span class="soft">{{ only.length ? 'only' : 'bills all kinds' }}</span>
        </span>
      </template>
      <template #job="{ row }">
        <router-link :to="`/jobs/${row.job}`" class="two"
          ><span
            ><b class="strong">{{ row.job }}</b> {{ row.name }}</span
          ><small v-if="row.onDraft" class="warnword"><Amount :of="row.onDraft" /> of it on a draft</small
          ><small v-else>{{ row.customer }}</small></router-link
        >
      </template>
      <template #used="{ row }"
        ><i v-if="row.nearLimit" class="flag" title="a fifth or less of the limit is left"></i
        >{{ figure(row.used) }}</template
      >
      <template #oldest="{ row }"
        ><i v-if="row.late" class="flag" title="longer than the limit"></i>{{ counted(row.ageDays, 'day') }}</template
      >
      <template #empty>
        <h2>Nothing is ready to bill</h2>
        <p>Approved, billable work on time and materials comes here, up to the end of the time chosen above.</p>
      </template>
    </Ledger>
    <StageList v-if="stages.length" v-model="chosenStages" :rows="stages" class="stages" />
    <Ledger
      v-if="bill.notReady?.length"
      name="not-ready"
      label="Not ready yet"
      class="blocked"
      :class="{ roomy: overKey }"
      of="reason"
      :columns="blocked"
      :rows="bill.notReady"
      :row-key="blockedKey"
      :opened="overKey"
    >
      <template #tools
        ><h2 class="strong">Not ready yet</h2>
        <span class="soft">worked and bought, but it can't go on an invoice; one step each</span></template
      >
      <template #step="{ row }"
        ><button v-if="row.heldOf" class="lnk" :disabled="busy" @click="letGo(row.heldOf, row.amount)">
          {{ row.step }}</button
        ><template v-else
          ><router-link class="lnk" :to="addressOf(row.link)">{{ row.step }}</router-link
          ><button
            v-if="row.overOf"
            class="lnk beside"
            :aria-expanded="over === row.overOf"
            :aria-label="`Let go work of job ${row.overOf} beyond its limit`"
            @click="over = over === row.overOf ? '' : row.overOf"
          >
            Let go
          </button></template
        ></template
      >
      <template #below="{ row }"><HeldWork v-if="row.overOf" :job="row.overOf" @close="over = ''" /></template>
    </Ledger>
    <DepositList v-if="bill.deposits?.length" :rows="bill.deposits" class="blocked" />
    <RetainedList v-if="bill.retained?.length" :rows="bill.retained" class="blocked" />
  </div>
</template>

<style scoped>
.listing {
  overflow: auto;
}
.ready {
  flex: 4 0 0;
  min-height: 15.5rem;
}
.least {
  color: var(--ink-soft);
  white-space: nowrap;
}
.few {
  width: 4rem;
  height: 1.625rem;
  border: 0;
  border-bottom: 1px solid var(--ink-soft);
  background: none;
}
.kinds {
  gap: 4px 10px;
}
.beside {
  margin-left: 12px;
}
.stages {
  flex: 2 0 0;
  min-height: 13.5rem;
}
.blocked {
  flex: 2 0 0;
  min-height: 9rem;
}
.roomy {
  min-height: 26rem;
}
</style>

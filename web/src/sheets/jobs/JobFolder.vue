<script setup lang="ts">
import { local } from '@/book/english'
import { useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import Trail from '@/parts/Trail.vue'
import TrailKey from '@/parts/TrailKey.vue'
import Workings from '@/parts/Workings.vue'
import { basisNames, figure, kindNames, longDay, percent, shortDay } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useWorkings } from '@/parts/workings'
import { useFooting } from '@/book/footing'
import { marginOf } from '@/book/money'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import JobPlan from './JobPlan.vue'

/** One job: what it is, its money as an equation, and everything booked to it. */
const props = defineProps<{ number: string }>()
const footing = useFooting()
const showWorkings = useWorkings(() => true)
const asked = useQuery({
  queryKey: ['jobs', () => props.number],
  queryFn: () => answered(client.GET('/api/jobs/{number}', { params: { path: { number: props.number } } })),
})
const { data } = asked
const EditJob = defineAsyncComponent(() => import('./EditJob.vue'))
const BudgetForm = defineAsyncComponent(() => import('./BudgetForm.vue'))
const scope = useScope()
const session = useSession()
/** What is typed anew: the job or its budget. It is in the address, as what leads here says what is to be done. */
const changing = computed(() => (session.can('setup') ? scope.text('change') : ''))
const change = (what: '' | 'job' | 'budget') => scope.change({ change: changing.value === what ? '' : what })
watchEffect(() => {
  const j = data.value
  if (!j) return
  footing.show(`${j.number}, to date`, [
    { label: 'Hours', value: j.hours },
    { label: local('Labour'), value: j.labour },
    { label: 'Other', value: j.other },
    { label: 'Cost', value: j.cost },
    { label: 'Earned', value: j.earned },
    marginOf(j),
    { label: 'Not approved, cost', value: j.pending },
  ])
})
/** What stands beside the equation and is no part of it. */
const aside = computed(() =>
  [
    Number(data.value?.held) && `${figure(data.value?.held)} held, over the limit`,
    Number(data.value?.pending) && `${figure(data.value?.pending)} cost not approved`,
  ].filter(Boolean),
)
/** Where all is planned and nothing is charged, the budget says it all. */
const planned = computed(() => (data.value?.plan.kinds ?? []).some((k) => k.budget || k.forecast))
const charged = computed(() => (data.value?.kinds ?? []).some((k) => Number(k.charge)))
type KindRow = NonNullable<Schema['JobFolder']['kinds']>[number]
const kinds: Column<KindRow>[] = [
  { id: 'kind', label: 'Kind of cost', value: (k) => kindNames[k.category] },
  { id: 'actual', label: 'Actual', kind: 'money', width: 120, value: (k) => k.actual, total: true },
  {
    id: 'pending',
    label: 'Not approved',
    kind: 'money',
    width: 120,
    value: (k) => k.pending,
    total: true,
    tone: 'soft',
    title: 'shown beside the cost and never mixed in',
  },
  { id: 'charge', label: 'Charge', kind: 'money', width: 120, value: (k) => k.charge, rule: true, total: true },
]
type Booked = NonNullable<Schema['JobFolder']['booked']>[number]
const booked: Column<Booked>[] = [
  { id: 'date', label: 'Date', kind: 'date', width: 84, value: (b) => b.date, text: (b) => shortDay(b.date) },
  { id: 'what', label: 'Entry or cost line', value: (b) => b.what, sub: (b) => b.detail },
  { id: 'cost', label: 'Cost', kind: 'money', width: 92, value: (b) => b.cost, rule: true },
  { id: 'charge', label: 'Charge', kind: 'money', width: 92, value: (b) => b.charge },
  { id: 'trail', label: 'Trail', width: 56, value: (b) => b.trail.text, text: () => '' },
]
</script>

<template>
  <div class="sheet">
    <div class="head">
      <h1 class="name">
        <router-link class="lnk" to="/jobs">Jobs</router-link>
        <span v-if="data">{{ data.number }} {{ data.name }}</span>
      </h1>
      <div class="acts">
        <v-btn :aria-pressed="showWorkings" @click="showWorkings = !showWorkings">Workings</v-btn>
        <template v-if="session.can('setup')">
          <v-btn :aria-pressed="changing === 'job'" @click="change('job')">Change job</v-btn>
          <v-btn :aria-pressed="changing === 'budget'" @click="change('budget')">Budget</v-btn>
        </template>
        <v-btn
          v-if="data?.basis === 'fixed' && session.can('bill')"
          :to="{ path: '/bill', query: { list: 'values', job: number } }"
          >Schedule of values</v-btn
        >
        <v-btn :to="{ path: '/time', query: { job: number } }">Hours</v-btn>
        <v-btn class="go" :to="{ path: '/bill', query: { job: number } }">Bill it</v-btn>
      </div>
    </div>
    <Await v-slot="{ data: folder }" :of="asked" :what="`job ${number}`">
      <div class="folder">
        <EditJob
          v-if="changing === 'job' && scope.choices.value"
          :key="number"
          :job="folder.typed"
          :choices="scope.choices.value"
          @close="change('')"
        />
        <BudgetForm
          v-if="changing === 'budget' && scope.choices.value"
          :key="number"
          :number="number"
          :plan="folder.plan"
          :version="folder.typed.version"
          :choices="scope.choices.value"
          @close="change('')"
        />
        <div class="equation">
          <div>
            <span class="soft"
              >{{ folder.customer ? `for ${folder.customer}` : 'our own'
              }}{{ folder.start ? `, since ${longDay(folder.start)}` : ''
              }}{{ folder.typed.orderNumber ? `, their order ${folder.typed.orderNumber}` : '' }}</span
            ><b
              >{{ basisNames[folder.basis]
              }}<template v-if="folder.contract"
                >{{ folder.basis === 'tm' ? ', not to exceed' : ' at' }} {{ figure(folder.contract) }}</template
              ></b
            >
          </div>
          <dl>
            <div>
              <dt>billed</dt>
              <dd><Amount :of="folder.billed" /></dd>
            </div>
            <div v-if="Number(folder.drafted)" data-op="+">
              <dt>drafted</dt>
              <dd><Amount :of="folder.drafted" /></dd>
            </div>
            <div data-op="+">
              <dt>unbilled</dt>
              <dd><Amount :of="folder.unbilled" /></dd>
            </div>
            <div :data-op="folder.basis === 'tm' ? '=' : '→'">
              <dt>earned</dt>
              <dd><Amount :of="folder.earned" /></dd>
            </div>
            <div data-op="−">
              <dt>cost</dt>
              <dd><Amount :of="folder.cost" /></dd>
            </div>
            <div v-if="Number(folder.provision)" data-op="−">
              <dt title="the part of a loss foreseen that has not come yet">provision</dt>
              <dd>{{ figure(folder.provision.replace('-', '')) }}</dd>
            </div>
            <div data-op="=">
              <dt>gross profit</dt>
              <dd>
                <button class="open" @click="showWorkings = true">
                  <Amount :of="folder.profit" /><span class="sr">, workings of the profit</span>
                </button>
              </dd>
            </div>
          </dl>
          <div>
            <span class="soft">margin</span
            ><b v-if="folder.unmeasured" title="a fixed price with neither a budget nor a forecast to measure it by"
              >not measured</b
            ><b v-else :class="{ neg: folder.margin?.startsWith('-') }">{{ percent(folder.margin) || 'none' }}</b>
          </div>
          <p v-if="aside.length" class="soft aside">beside it: {{ aside.join(', ') }}</p>
        </div>
        <div class="split two-parts" :class="{ three: showWorkings }">
          <section class="sums">
            <Ledger
              v-if="!planned || charged"
              name="job-kinds"
              label="Kinds of cost"
              of="kind of cost"
              bare
              flat
              :columns="kinds"
              :rows="folder.kinds ?? []"
              :row-key="(k) => k.category"
            >
              <template #kind="{ row }"
                ><span :class="`kind-${row.category}`"
                  ><i class="swatch"></i>{{ kindNames[row.category] }}</span
                ></template
              >
              <template #key
                ><p class="soft note">
                  What has not been approved is shown beside the cost and never mixed in.
                </p></template
              >
            </Ledger>
            <JobPlan :plan="folder.plan" :planned="planned" />
          </section>
          <section>
            <Ledger
              name="job-booked"
              label="Booked to it"
              of="entry"
              :columns="booked"
              :rows="folder.booked ?? []"
              :row-key="(b) => `${b.kind}${b.id}`"
            >
              <template #tools
                ><h2 class="strong">Booked to it</h2>
                <span class="soft">newest first</span></template
              >
              <template #trail="{ row }"><Trail :trail="row.trail" :kind="row.kind" :ids="[row.id]" /></template>
              <template #empty>Nothing is booked to this job yet.</template>
              <template #key
                ><p v-if="folder.more" class="empty soft">{{ folder.more }} earlier ones are not shown.</p></template
              >
            </Ledger>
            <div class="key"><TrailKey /></div>
          </section>
          <Workings v-if="showWorkings" :of="{ kind: 'job', number }" ask="" @close="showWorkings = false" />
        </div>
      </div>
    </Await>
  </div>
</template>

<style scoped>
.name {
  font-size: var(--t-lead);
  font-weight: 620;
  display: flex;
  gap: 12px;
}
.folder {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.folder > :last-child {
  flex: 1;
}
.equation {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 8px 24px;
  padding: 9px 16px;
  border-bottom: 1px solid var(--ink);
}
.equation dl {
  display: flex;
  gap: 12px;
}
.two-parts {
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
}
.three {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) 18.75rem;
}
@media (max-width: 1180px) {
  .three {
    grid-template-columns: minmax(0, 1fr) 18.75rem;
  }
  .three > section:first-child {
    display: none; /* the Workings have the kinds of cost too */
  }
}
.open:hover {
  text-decoration: underline;
}
.sums {
  overflow-y: auto;
}
.sums > * {
  flex: none;
}
.aside {
  flex-basis: 100%;
  font-size: var(--t-small);
}
.note {
  padding: 8px 16px;
  font-size: var(--t-small);
}
</style>

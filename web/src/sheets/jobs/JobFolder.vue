<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { watchEffect } from 'vue'
import { answered, client } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Trail from '@/parts/Trail.vue'
import TrailKey from '@/parts/TrailKey.vue'
import Workings from '@/parts/Workings.vue'
import { basisNames, figure, kindNames, longDay, percent, shortDay } from '@/parts/figures'
import { useWorkings } from '@/parts/workings'
import { useFooting } from '@/book/footing'

/** One job: what it is, its money as an equation, and everything booked to it. */
const props = defineProps<{ number: string }>()
const footing = useFooting()
const showWorkings = useWorkings(() => true)
const { data, error } = useQuery({
  queryKey: ['jobs', () => props.number],
  queryFn: () => answered(client.GET('/api/jobs/{number}', { params: { path: { number: props.number } } })),
})
watchEffect(() => {
  const j = data.value
  if (!j) return
  footing.show(`${j.number}, to date`, [
    { label: 'Hours', value: j.hours },
    { label: 'Labour', value: j.labour },
    { label: 'Other', value: j.other },
    { label: 'Cost', value: j.cost },
    { label: 'Earned', value: j.earned },
    { label: 'Margin', value: j.margin ? `${j.margin} %` : '' },
    { label: 'Waits, cost', value: j.pending },
  ])
})
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
        <v-btn :to="{ path: '/time', query: { job: number } }">Hours</v-btn>
        <v-btn class="go" :to="{ path: '/bill', query: { job: number } }">Bill it</v-btn>
      </div>
    </div>
    <p v-if="error && !data" class="said empty" role="alert">{{ error.message }}</p>
    <div v-else-if="data" class="folder">
      <div class="equation">
        <div>
          <span class="soft"
            >{{ data.customer ? `for ${data.customer}` : 'our own'
            }}{{ data.start ? `, since ${longDay(data.start)}` : '' }}</span
          ><b
            >{{ basisNames[data.basis] }}<template v-if="data.contract"> at {{ figure(data.contract) }}</template></b
          >
        </div>
        <dl>
          <div>
            <dt>billed</dt>
            <dd><Amount :of="data.billed" /></dd>
          </div>
          <div data-op="+">
            <dt>unbilled</dt>
            <dd><Amount :of="data.unbilled" /></dd>
          </div>
          <div :data-op="data.basis === 'tm' ? '=' : '→'">
            <dt>earned</dt>
            <dd><Amount :of="data.earned" /></dd>
          </div>
          <div data-op="−">
            <dt>cost</dt>
            <dd><Amount :of="data.cost" /></dd>
          </div>
          <div data-op="=">
            <dt>profit</dt>
            <dd>
              <button class="open" @click="showWorkings = true">
                <Amount :of="data.profit" /><span class="sr">, workings of the profit</span>
              </button>
            </dd>
          </div>
        </dl>
        <div>
          <span class="soft">margin</span
          ><b :class="{ neg: data.margin?.startsWith('-') }">{{ percent(data.margin) || 'none' }}</b>
        </div>
      </div>
      <div class="split two-parts" :class="{ three: showWorkings }">
        <section>
          <table class="ledger" aria-label="Kinds of cost">
            <thead>
              <tr>
                <th scope="col">Kind of cost</th>
                <th scope="col" class="num">Actual</th>
                <th scope="col" class="num">Waits</th>
                <th scope="col" class="num money">Charge</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="k in data.kinds" :key="k.category">
                <td :class="`kind-${k.category}`"><i class="swatch"></i>{{ kindNames[k.category] }}</td>
                <td class="num"><Amount :of="k.actual" /></td>
                <td class="num soft"><Amount :of="k.pending" /></td>
                <td class="num money"><Amount :of="k.charge" /></td>
              </tr>
            </tbody>
            <tfoot>
              <tr>
                <th scope="row">All of it</th>
                <td class="num"><Amount :of="data.cost" /></td>
                <td class="num"><Amount :of="data.pending" /></td>
                <td class="money"></td>
              </tr>
            </tfoot>
          </table>
          <p class="soft note">What waits has not been approved; it is shown beside the cost and never mixed in.</p>
          <div class="ruled"></div>
        </section>
        <section>
          <div class="title-row">
            <h2>Booked to it</h2>
            <span class="soft">newest first</span>
          </div>
          <div class="scroll">
            <table class="ledger" aria-label="Booked to it">
              <colgroup>
                <col style="width: 92px" />
                <col />
                <col style="width: 92px" />
                <col style="width: 92px" />
                <col style="width: 50px" />
              </colgroup>
              <thead>
                <tr>
                  <th scope="col">When</th>
                  <th scope="col">What</th>
                  <th scope="col" class="num money">Cost</th>
                  <th scope="col" class="num">Charge</th>
                  <th scope="col" class="mk">Trail</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="b in data.booked" :key="b.kind + b.id">
                  <td>{{ shortDay(b.date) }}</td>
                  <td>
                    <span class="two"
                      ><span>{{ b.what }}</span
                      ><small>{{ b.detail }}</small></span
                    >
                  </td>
                  <td class="num money"><Amount :of="b.cost" /></td>
                  <td class="num"><Amount :of="b.charge" /></td>
                  <td class="mk"><Trail :trail="b.trail" :kind="b.kind" :ids="[b.id]" /></td>
                </tr>
              </tbody>
            </table>
            <p v-if="!data.booked?.length" class="empty soft">Nothing is booked to this job yet.</p>
            <p v-if="data.more" class="empty soft">{{ data.more }} earlier ones are not shown.</p>
          </div>
          <div class="key"><TrailKey /></div>
        </section>
        <Workings v-if="showWorkings" :of="{ kind: 'job', number }" ask="" @close="showWorkings = false" />
      </div>
    </div>
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
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}
.equation {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 8px 24px;
  padding: 9px 16px;
  border-bottom: 1px solid var(--ink);
}
.equation :is(dt, span.soft) {
  display: block;
  font-size: var(--t-sub);
  line-height: 15px;
  color: var(--ink-soft);
}
.equation :is(b, dd) {
  font-size: 18px;
  line-height: 25px;
  font-weight: 600;
}
.equation [data-op] {
  position: relative;
  padding-left: 24px;
}
.equation [data-op]::before {
  content: attr(data-op);
  position: absolute;
  left: 0;
  bottom: 0;
  font-size: 18px;
  line-height: 25px;
  font-weight: 300;
  color: var(--ink-soft);
}
.equation dl {
  display: flex;
  gap: 12px;
}
.two-parts {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
.three {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) 300px;
}
@media (max-width: 1180px) {
  .three {
    grid-template-columns: minmax(0, 1fr) 300px;
  }
  .three > section:first-child {
    display: none; /* the Workings have the kinds of cost too */
  }
}
.open:hover {
  text-decoration: underline;
}
.note {
  padding: 8px 16px;
  font-size: var(--t-small);
}
</style>

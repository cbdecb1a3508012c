<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch, watchEffect } from 'vue'
import { answered, client } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import SheetHead from '@/parts/SheetHead.vue'
import Trail from '@/parts/Trail.vue'
import Workings from '@/parts/Workings.vue'
import { counted, day, percent } from '@/parts/figures'
import { useWorkings } from '@/parts/workings'
import { useFooting } from '@/shell/footing'
import { useScope } from '@/shell/scope'
import DocumentForm from './DocumentForm.vue'
import OwedList from './OwedList.vue'
import { blankDocument, useDocument } from './document'

const scope = useScope()
const owed = computed(() => scope.text('list') === 'owed')
const footing = useFooting()
const paper = useDocument()
const { typed, shown, wrong, said, busy, changed, locked } = paper
const showWorkings = useWorkings(() => true)
const gone = ref<number>()
/** The line that the Workings are of: the one last gone to, at first the first. */
const line = computed(() => (typed.value?.lines?.find((l) => l.id === gone.value) ?? typed.value?.lines?.[0])?.id)

const { data: list, isLoading } = useQuery({
  queryKey: ['costs', scope.query],
  queryFn: () => answered(client.GET('/api/costs', { params: { query: scope.query.value } })),
})
const { data: totals } = useQuery({
  queryKey: ['footing', scope.query],
  queryFn: () => answered(client.GET('/api/footing', { params: { query: scope.query.value } })),
})
watchEffect(() => {
  const f = totals.value
  if (!f || owed.value) return
  const of = (label: string, value?: string) => ({ label, value: value ?? '' })
  footing.show(`${scope.jobName.value}, ${scope.short.value}`, [
    of('Hours', f.hours),
    of('Labour', f.labour),
    of('Other', f.other),
    of('Cost', f.cost),
    of('Charge', f.charge),
    of('Margin', f.margin ? `${f.margin} %` : ''),
  ])
})
const open = computed(() => scope.text('open'))
const jobId = computed(() => scope.choices.value?.jobs?.find((j) => j.number === scope.job.value)?.id)
watch(
  [open, list],
  async ([id]) => {
    if (id === 'new') {
      if (!typed.value || typed.value.id) paper.open(blankDocument(scope.today.value, jobId.value))
      return
    }
    const wanted = Number(id) || list.value?.documents?.[0]?.id
    if (!wanted || (typed.value?.id === wanted && changed.value)) return
    paper.open(await answered(client.GET('/api/costs/{id}', { params: { path: { id: wanted } } })))
  },
  { immediate: true },
)
const choose = (id: number | 'new') => scope.change({ open: String(id), list: '' })
async function keep(act: () => Promise<{ id?: number } | undefined>) {
  const saved = await act()
  if (saved?.id) void choose(saved.id)
}
function fresh() {
  paper.open(blankDocument(scope.today.value, jobId.value))
  void choose('new')
}
</script>

<template>
  <div class="sheet">
    <SheetHead title="Costs" :hide-when="owed">
      <span class="words">
        <button :aria-pressed="!owed" @click="scope.change({ list: '' })">papers</button>
        <button :aria-pressed="owed" @click="scope.change({ list: 'owed', open: '' })">to be paid back</button>
      </span>
      <template #acts>
        <span v-if="said" class="said" role="alert">{{ said }}</span>
        <v-btn v-if="typed?.id && !owed" :aria-pressed="showWorkings" @click="showWorkings = !showWorkings"
          >Workings</v-btn
        >
        <template v-if="typed && !locked && !owed">
          <v-btn :loading="busy" :disabled="!changed" @click="keep(paper.save)">Save</v-btn>
          <v-btn v-if="typed.status !== 'submitted' || changed" :loading="busy" @click="keep(paper.handIn)"
            >Hand in</v-btn
          >
        </template>
        <v-btn class="go" @click="fresh">New paper</v-btn>
      </template>
    </SheetHead>
    <OwedList v-if="owed" />
    <div v-else class="split costs" :class="{ three: showWorkings }">
      <section class="list">
        <table class="ledger" aria-label="Papers">
          <colgroup>
            <col />
            <col style="width: 92px" />
            <col style="width: 50px" />
          </colgroup>
          <thead>
            <tr>
              <th scope="col">Supplier or person</th>
              <th scope="col" class="num">Cost</th>
              <th scope="col" class="mk">Trail</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="d in list?.documents"
              :key="d.id"
              tabindex="0"
              :class="{ open: d.id === typed?.id }"
              :aria-current="d.id === typed?.id"
              @click="choose(d.id)"
              @keydown.enter="choose(d.id)"
            >
              <td>
                <span class="two"
                  ><span>{{ d.title }}</span
                  ><small v-if="d.noJob" class="warnword">{{
                    d.noJob === 1 ? 'one line has no job' : `${d.noJob} lines have no job`
                  }}</small
                  ><small v-else>{{ day(d.date) }}, {{ d.detail }}</small></span
                >
              </td>
              <td class="num"><Amount :of="d.total" /></td>
              <td class="mk"><Trail :trail="d.trail" /></td>
            </tr>
          </tbody>
          <tfoot v-if="list?.documents?.length">
            <tr>
              <th scope="row">
                {{ counted(list.count, 'paper')
                }}<small v-if="list.count > list.documents.length"
                  >, the newest {{ list.documents.length }} listed</small
                >
              </th>
              <td class="num"><Amount :of="list.total" /></td>
              <td></td>
            </tr>
          </tfoot>
        </table>
        <p v-if="isLoading" class="empty soft" role="status">Looking for papers…</p>
        <p v-else-if="!list?.documents?.length" class="empty soft">
          No paper in this time. Suppliers' invoices and receipts go here, by the line.
        </p>
        <div class="ruled"></div>
      </section>
      <section>
        <template v-if="typed && scope.choices.value">
          <DocumentForm
            v-model="typed"
            :shown="shown"
            :wrong="wrong"
            :choices="scope.choices.value"
            :suppliers="list?.suppliers ?? []"
            :locked="locked"
            @edited="paper.edited"
            @line="gone = $event"
            @workings="showWorkings = true"
          />
          <div class="under">
            <div>
              <h2>Does it foot?</h2>
              <table class="sum-table">
                <tbody>
                  <tr>
                    <td>Lines</td>
                    <td><Amount :of="shown?.goods" /></td>
                  </tr>
                  <tr>
                    <td>Freight</td>
                    <td><Amount :of="shown?.freight" /></td>
                  </tr>
                  <tr>
                    <td>Tax{{ shown?.recovered ? ', recovered' : '' }}</td>
                    <td><Amount :of="shown?.tax" /></td>
                  </tr>
                  <tr class="sum">
                    <td>Invoice</td>
                    <td><Amount :of="shown?.total" /></td>
                  </tr>
                </tbody>
              </table>
            </div>
            <div>
              <h2>Bought against charged</h2>
              <table class="sum-table">
                <thead>
                  <tr>
                    <th scope="col">Job</th>
                    <th scope="col">Bought</th>
                    <th scope="col">Charged</th>
                    <th scope="col">Margin</th>
                  </tr>
                </thead>
                <tbody>
                  <tr v-for="j in shown?.byJob" :key="j.job">
                    <td>{{ j.job }}</td>
                    <td><Amount :of="j.bought" /></td>
                    <td><Amount :of="j.charged" /></td>
                    <td>{{ percent(j.margin) }}</td>
                  </tr>
                  <tr class="sum">
                    <td>Together</td>
                    <td><Amount :of="shown?.landed" /></td>
                    <td><Amount :of="shown?.charge" /></td>
                    <td></td>
                  </tr>
                </tbody>
              </table>
              <p class="soft">
                Freight and tax are spread over the lines by size. Markup is on cost, margin on price: 20 % on top is
                16.67 % of the price.
              </p>
            </div>
          </div>
        </template>
        <div v-else-if="!isLoading" class="empty">
          <h2>No paper is open</h2>
          <p class="soft">Choose one at the left, or enter a new one.</p>
        </div>
      </section>
      <Workings
        v-if="showWorkings"
        :of="line ? { kind: 'line', id: line } : undefined"
        ask="Go to a saved line to see how its landed cost and charge came about."
        @close="showWorkings = false"
      />
    </div>
  </div>
</template>

<style scoped>
.costs {
  grid-template-columns: 262px minmax(0, 1fr);
}
.three {
  grid-template-columns: minmax(0, 1fr) 300px;
}
.three > section {
  border-left: 0;
}
.three > .list {
  display: none; /* the Workings are of the paper that is open, and take the list's place */
}
.list :is(td, th) {
  padding-left: 6px;
}
.under {
  display: grid;
  grid-template-columns: 212px minmax(0, 460px);
  gap: 24px 40px;
  padding: 14px 16px;
}
.under h2 {
  font-weight: 660;
  font-size: 14px;
  padding-bottom: 5px;
}
.under p {
  padding-top: 10px;
  font-size: var(--t-small);
}
</style>

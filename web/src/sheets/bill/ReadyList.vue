<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { answered, client, newKey, type Schema } from '@/api/client'
import { addressOf } from '@/parts/addresses'
import Amount from '@/parts/Amount.vue'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'

/** What is ready to bill, a row a job, and what is not ready with its reason. */
const props = defineProps<{ bill: Schema['BillSheet'] }>()
const scope = useScope()
const footing = useFooting()
const queries = useQueryClient()
const kinds = ['labour', 'material', 'equipment', 'subcontract', 'expense', 'mileage']
const chosen = ref(new Set<number>())
const busy = ref(false)
const said = ref('')
let key = newKey()
const ready = computed(() => props.bill.ready ?? [])
const picked = computed(() => ready.value.filter((r) => chosen.value.has(r.jobId)))

watchEffect(() => {
  footing.show(`${ready.value.length} ${ready.value.length === 1 ? 'job' : 'jobs'} ready`, [
    { label: 'Ready to bill', value: props.bill.totals.ready },
    { label: 'On drafts', value: props.bill.totals.drafts },
    { label: 'Issued', value: props.bill.totals.issued },
    { label: 'Left to pay', value: props.bill.totals.balance },
    { label: 'Overdue', value: props.bill.totals.overdue },
  ])
})
function toggle(job: number) {
  const next = new Set(chosen.value)
  if (!next.delete(job)) next.add(job)
  chosen.value = next
}
async function make() {
  busy.value = true
  said.value = ''
  try {
    const body = {
      key,
      jobs: picked.value.map((r) => r.jobId),
      through: scope.to.value || scope.today.value,
      date: scope.today.value,
    }
    const drafts = await answered(client.POST('/api/bill/drafts', { body }))
    key = newKey()
    await queries.invalidateQueries()
    footing.saved()
    await scope.change({ list: 'drafts', open: String(drafts?.at(-1)?.id ?? '') })
  } catch (refused) {
    said.value = (refused as Error).message
    await queries.invalidateQueries({ queryKey: ['bill'] })
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="scroll">
    <Teleport to="#bill-acts">
      <span v-if="said" class="said" role="alert">{{ said }}</span>
      <v-btn :disabled="!ready.length" @click="chosen = new Set(ready.map((r) => r.jobId))">Choose all</v-btn>
      <v-btn class="go" :loading="busy" :disabled="!picked.length" @click="make"
        >Make {{ picked.length || '' }} {{ picked.length === 1 ? 'draft' : 'drafts' }}</v-btn
      >
    </Teleport>
    <div v-if="!ready.length" class="empty">
      <h2>Nothing is ready to bill</h2>
      <p class="soft">
        Approved, billable work on time and materials comes here, up to the end of the time chosen above.
      </p>
    </div>
    <table v-else class="ledger" aria-label="Ready to bill">
      <colgroup>
        <col style="width: 42px" />
        <col />
        <col v-for="k in kinds" :key="k" style="width: 96px" />
        <col style="width: 104px" />
        <col style="width: 74px" />
        <col style="width: 110px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col"><span class="sr">Choose</span></th>
          <th scope="col">Job, customer</th>
          <th v-for="(k, i) in kinds" :key="k" scope="col" class="num" :class="{ money: i === 0 }">
            {{ k[0]!.toUpperCase() + k.slice(1) }}
          </th>
          <th scope="col" class="num money">Ready</th>
          <th scope="col" class="num">Oldest</th>
          <th scope="col" class="num money">Billed so far</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in ready" :key="r.jobId" :class="{ chosen: chosen.has(r.jobId) }">
          <td class="mk">
            <input
              type="checkbox"
              class="box"
              :checked="chosen.has(r.jobId)"
              :aria-label="`Choose job ${r.job}`"
              @change="toggle(r.jobId)"
            />
          </td>
          <td>
            <router-link :to="`/jobs/${r.job}`" class="two"
              ><span
                ><b class="strong">{{ r.job }}</b> {{ r.name }}</span
              ><small v-if="r.onDraft" class="warnword"><Amount :of="r.onDraft" /> of it on a draft</small
              ><small v-else>{{ r.customer }}</small></router-link
            >
          </td>
          <td v-for="(k, i) in kinds" :key="k" class="num" :class="{ money: i === 0 }">
            <Amount :of="r.kinds?.[k]" />
          </td>
          <td class="num money strong"><Amount :of="r.total" /></td>
          <td class="num"><i v-if="r.late" class="flag" title="longer than the limit"></i>{{ r.ageDays }} d</td>
          <td class="num money"><Amount :of="r.billedSoFar" /></td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <td></td>
          <th scope="row">{{ ready.length }} {{ ready.length === 1 ? 'job' : 'jobs' }} by time and materials</th>
          <td v-for="(k, i) in kinds" :key="k" class="num" :class="{ money: i === 0 }">
            <Amount :of="bill.totals.kinds?.[k]" />
          </td>
          <td class="num money"><Amount :of="bill.totals.ready" /></td>
          <td></td>
          <td class="num money"><Amount :of="bill.totals.billedSoFar" /></td>
        </tr>
      </tfoot>
    </table>
    <template v-if="bill.notReady?.length">
      <div class="title-row not-ready">
        <h2>Not ready yet</h2>
        <span class="soft">worked and bought, but it can't go on an invoice; one step each</span>
      </div>
      <table class="ledger" aria-label="Not ready yet">
        <colgroup>
          <col style="width: 130px" />
          <col style="width: 220px" />
          <col />
          <col style="width: 120px" />
          <col style="width: 70px" />
          <col style="width: 170px" />
        </colgroup>
        <tbody>
          <tr v-for="(n, i) in bill.notReady" :key="i">
            <td class="strong">{{ n.reason }}</td>
            <td>{{ n.what }}</td>
            <td class="soft">{{ n.detail }}</td>
            <td class="num money"><Amount :of="n.amount" /></td>
            <td class="soft">{{ n.atCost ? 'at cost' : '' }}</td>
            <td>
              <router-link class="lnk" :to="addressOf(n.link)">{{ n.step }}</router-link>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </div>
</template>

<style scoped>
.not-ready {
  margin-top: 8px;
}
</style>

<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import { hours, shortDay, moment } from '@/parts/figures'
import { useFooting } from '@/book/footing'
import ReturnForm from './ReturnForm.vue'

/** What was approved and returned last: who, when and why. What is approved and not on an invoice can be returned. */
const queries = useQueryClient()
const footing = useFooting()
const { data, error, isLoading } = useQuery({
  queryKey: ['approve', 'decided'],
  queryFn: () => answered(client.GET('/api/approve/decided')),
})
const returning = ref('')
const said = ref('')
const busy = ref(false)
const keyOf = (d: Schema['Decided']) => `${d.decision} ${d.title} ${d.week ?? d.document?.id}`
const returnable = (d: Schema['Decided']) => d.now === 'approved' && (!!d.document || !!d.entries?.length)

async function giveBack(d: Schema['Decided'], reason: string) {
  busy.value = true
  said.value = ''
  try {
    const body = { entries: d.entries ?? [], documents: d.document ? [d.document] : [], reason }
    await answered(client.POST('/api/return', { body }))
    returning.value = ''
    footing.saved()
    await queries.invalidateQueries()
  } catch (refused) {
    said.value = (refused as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="scroll">
    <table class="ledger" aria-label="Decided">
      <colgroup>
        <col style="width: 150px" />
        <col style="width: 230px" />
        <col />
        <col style="width: 70px" />
        <col style="width: 110px" />
        <col style="width: 130px" />
        <col style="width: 90px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">When</th>
          <th scope="col">By whom</th>
          <th scope="col">What</th>
          <th scope="col" class="num">Hours</th>
          <th scope="col" class="num money">Cost</th>
          <th scope="col">Now</th>
          <th scope="col"><span class="sr">Return</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="d in data" :key="keyOf(d)">
          <tr>
            <td>{{ moment(d.at) }}</td>
            <td>
              <span class="two"
                ><span>{{ d.approved ? 'approved' : 'returned' }} by {{ d.who }}</span
                ><small v-if="d.reason">{{ d.reason }}</small></span
              >
            </td>
            <td>
              <span class="two"
                ><span>{{ d.title }}</span
                ><small>{{ d.detail }}{{ d.week ? `, week of ${shortDay(d.week)}` : '' }}</small></span
              >
            </td>
            <td class="num">{{ hours(d.hours) }}</td>
            <td class="num money"><Amount :of="d.cost" /></td>
            <td class="soft">
              {{ d.now === 'submitted' ? 'waits again' : d.now === 'draft' ? 'not handed in' : d.now }}
            </td>
            <td>
              <button v-if="returnable(d)" class="lnk" @click="returning = returning === keyOf(d) ? '' : keyOf(d)">
                Return
              </button>
            </td>
          </tr>
          <tr v-if="returning === keyOf(d)" class="more">
            <td colspan="7">
              <ReturnForm
                :busy="busy"
                :many="1"
                :reasons="['approved too soon', 'wrong job']"
                @back="giveBack(d, $event)"
                @leave="returning = ''"
              />
              <p v-if="said" class="said empty" role="alert">{{ said }}</p>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-if="error" class="said empty" role="alert">{{ error.message }}</p>
    <p v-else-if="isLoading" class="empty soft" role="status">Looking back…</p>
    <p v-else-if="!data?.length" class="empty soft">Nothing has been approved or returned yet.</p>
  </div>
</template>

<style scoped>
.ledger .more td {
  height: auto;
  padding: 0;
}
</style>

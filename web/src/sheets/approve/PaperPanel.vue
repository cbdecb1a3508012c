<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import { figure, longDay } from '@/parts/figures'
import ScanView from '@/parts/ScanView.vue'

/** A paper to decide on: its lines, what they come to, and its scan. */
const props = defineProps<{ document: number }>()
const { data, error } = useQuery({
  queryKey: ['costs', 'paper', () => props.document],
  queryFn: () => answered(client.GET('/api/costs/{id}', { params: { path: { id: props.document } } })),
})
</script>

<template>
  <p v-if="error" class="said empty" role="alert">{{ error.message }}</p>
  <p v-else-if="!data" class="soft empty" role="status">Opening the paper…</p>
  <template v-else>
    <p class="about soft">
      {{ longDay(data.date) }}<template v-if="data.number">, {{ data.number }}</template>
      <router-link class="lnk" :to="{ path: '/costs', query: { open: String(document), span: 'all' } }"
        >Open in Costs</router-link
      >
    </p>
    <p v-for="w in data.warnings" :key="w" class="warnword about"><i class="flag"></i>{{ w }}</p>
    <table class="ledger" aria-label="Lines of the paper">
      <colgroup>
        <col />
        <col style="width: 70px" />
        <col style="width: 74px" />
        <col style="width: 86px" />
        <col style="width: 86px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">What, job</th>
          <th scope="col" class="num">Quantity</th>
          <th scope="col" class="num">Each</th>
          <th scope="col" class="num money">Landed</th>
          <th scope="col" class="num">Charge</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="l in data.lines" :key="l.id">
          <td>
            <span class="two"
              ><span>{{ l.description || l.category }}</span
              ><small v-if="l.job">{{ l.job.code }} {{ l.job.name }}</small
              ><small v-else class="warnword">no job</small></span
            >
          </td>
          <td class="num">{{ figure(l.quantity) }} {{ l.unit }}</td>
          <td class="num"><Amount :of="l.unitCost" /></td>
          <td class="num money"><Amount :of="l.landed" /></td>
          <td class="num"><Amount :of="l.charge" /></td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <th scope="row">Invoice {{ figure(data.total) }}</th>
          <td colspan="2"></td>
          <td class="num money"><Amount :of="data.landed" /></td>
          <td class="num"><Amount :of="data.charge" /></td>
        </tr>
      </tfoot>
    </table>
    <div class="scans">
      <ScanView v-for="s in data.attachments" :key="s.id" :scan="s" />
      <p v-if="!data.attachments?.length" class="soft">No scan is attached.</p>
    </div>
  </template>
</template>

<style scoped>
.about {
  padding: 8px 16px;
}
.scans {
  padding: 14px 16px;
  display: grid;
  gap: 12px;
}
</style>

<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { reactive, ref, watch } from 'vue'
import { answered, client, retryKey, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import { counted, day, longDay } from '@/parts/figures'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'

/** Whom the company owes what they laid out, and what was paid back. */
const scope = useScope()
const footing = useFooting()
const queries = useQueryClient()
const { data, error, isLoading } = useQuery({
  queryKey: ['costs', 'owed'],
  queryFn: () => answered(client.GET('/api/owed')),
})
const left = reactive(new Set<number>())
const on = ref('')
const said = ref('')
const done = ref('')
const busy = ref(false)
watch(scope.today, (today) => (on.value ||= today), { immediate: true })
watch(
  data,
  (d) =>
    d &&
    footing.show('To be paid back', [
      { label: 'Owed', value: d.total },
      { label: 'People', value: String(d.people?.length ?? 0) },
    ]),
  { immediate: true },
)
const chosen = (p: Schema['OwedTo']) => (p.papers ?? []).filter((d) => d.ready && !left.has(d.id)).map((d) => d.id)

async function run(call: () => Promise<Schema['Owed']>, words: string) {
  said.value = ''
  done.value = ''
  busy.value = true
  try {
    queries.setQueryData(['costs', 'owed'], await call())
    done.value = words
    footing.saved()
    void queries.invalidateQueries({ queryKey: ['history'] })
  } catch (refused) {
    said.value = (refused as Error).message
    void queries.invalidateQueries({ queryKey: ['costs', 'owed'] })
  } finally {
    busy.value = false
  }
}
/** Where no answer comes it may have been paid: sent once more it is the same payment. */
const paying = retryKey()
function pay(p: Schema['OwedTo']) {
  const payment = { workerId: p.workerId, documentIds: chosen(p), date: on.value }
  return run(async () => {
    const owed = await answered(client.POST('/api/owed', { body: { ...payment, key: paying.for(payment) } }))
    paying.done()
    return owed
  }, `${p.worker} has been paid back`)
}
const undo = (id: number) =>
  run(() => answered(client.DELETE('/api/owed/{id}', { params: { path: { id } } })), 'Taken back; it is owed again')
</script>

<template>
  <section class="owed">
    <p v-if="error && !data" class="empty said" role="alert">{{ error.message }}</p>
    <p v-else-if="isLoading" class="empty soft" role="status">Adding up what is owed…</p>
    <template v-else-if="data">
      <div class="form-row">
        <label class="field">Paid back on<input v-model="on" type="date" /></label>
        <span v-if="said" class="said" role="alert">{{ said }}</span>
        <span v-if="done" class="told" role="status">{{ done }}</span>
      </div>
      <table class="ledger" aria-label="To be paid back">
        <colgroup>
          <col style="width: 36px" />
          <col />
          <col style="width: 150px" />
          <col style="width: 130px" />
          <col style="width: 130px" />
          <col style="width: 150px" />
        </colgroup>
        <thead>
          <tr>
            <th scope="col"><span class="sr">Chosen</span></th>
            <th scope="col">Person, paper</th>
            <th scope="col">Date</th>
            <th scope="col" class="num">Waits for approval</th>
            <th scope="col" class="num money">Owed</th>
            <th scope="col"><span class="sr">Step</span></th>
          </tr>
        </thead>
        <tbody v-for="p in data.people" :key="p.workerId">
          <tr class="group">
            <td></td>
            <td>{{ p.worker }}</td>
            <td>{{ p.ageDays ? `oldest ${counted(p.ageDays, 'day')}` : '' }}</td>
            <td class="num"><Amount v-if="p.waiting" :of="p.waiting" /></td>
            <td class="num money"><Amount :of="p.owed" /></td>
            <td class="num">
              <v-btn class="small go" :disabled="!chosen(p).length || busy" @click="pay(p)"
                >Pay {{ counted(chosen(p).length, 'paper') }} back</v-btn
              >
            </td>
          </tr>
          <tr v-for="d in p.papers" :key="d.id">
            <td class="mk">
              <input
                v-if="d.ready"
                type="checkbox"
                class="box"
                :checked="!left.has(d.id)"
                :aria-label="`${d.title} of ${p.worker}`"
                @change="left.has(d.id) ? left.delete(d.id) : left.add(d.id)"
              />
            </td>
            <td>
              <router-link class="lnk" :to="`/costs?span=all&open=${d.id}`">{{ d.title }}</router-link>
            </td>
            <td>{{ day(d.date) }}</td>
            <td class="num"><Amount v-if="!d.ready" :of="d.amount" /></td>
            <td class="num money"><Amount v-if="d.ready" :of="d.amount" /></td>
            <td></td>
          </tr>
        </tbody>
        <tfoot>
          <tr>
            <td></td>
            <th scope="row">{{ data.people?.length ? 'Together' : 'Nobody is owed anything' }}</th>
            <td colspan="2"></td>
            <td class="num money"><Amount :of="data.total" /></td>
            <td></td>
          </tr>
        </tfoot>
      </table>
      <template v-if="data.paid?.length">
        <h2>Paid back</h2>
        <table class="ledger" aria-label="Paid back">
          <tbody>
            <tr v-for="r in data.paid" :key="r.id">
              <td>{{ r.worker }}</td>
              <td>{{ longDay(r.date) }}</td>
              <td>{{ counted(r.papers, 'paper') }}{{ r.note ? `, ${r.note}` : '' }}</td>
              <td class="num"><Amount :of="r.amount" /></td>
              <td class="num"><button class="lnk" :disabled="busy" @click="undo(r.id)">It was not paid</button></td>
            </tr>
          </tbody>
        </table>
      </template>
      <p class="soft note">
        What somebody laid out, on a claim, a receipt or a mileage log with their name, is owed to them once it is
        approved.
      </p>
    </template>
  </section>
</template>

<style scoped>
.owed {
  overflow: auto;
}
h2 {
  font-weight: 660;
  font-size: 15px;
  padding: 18px 16px 4px;
}
.note {
  padding: 12px 16px;
}
</style>

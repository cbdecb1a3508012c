<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Schema } from '@/api/client'
import Ledger from '@/parts/Ledger.vue'
import { counted, day, moment, inWords } from '@/parts/figures'
import { grouped, type Column } from '@/parts/ledger'
import { useOutbox } from '@/book/outbox'
import { useScope } from '@/book/scope'
import { addressOf } from '@/parts/addresses'
import { useSession } from '@/book/session'
import { settledBy, useSettling, type Filled, type LooseEnd } from './settle'
import SettleRow from './SettleRow.vue'

/** The loose ends, grouped by what they are, most money first; each opens in place to be settled or set aside. */
const props = defineProps<{ ends: LooseEnd[]; asides: Schema['Aside'][] }>()
const scope = useScope()
const session = useSession()
const { busy, said, settled, settle, setAside, bringBack } = useSettling()
const open = ref('')
const showAsides = ref(false)
/** What was typed on this machine, is kept, and could not be read: it counts in no total until it is put right. */
const outbox = useOutbox()
const unread = computed<LooseEnd[]>(() =>
  outbox.wrong.map((i) => ({
    kind: 'not_understood',
    title: 'Not understood',
    why: 'typed, kept, not counted',
    where: `${i.place.worker.name}, ${i.place.job.code}`,
    detail: `“${i.edit.text}”`,
    date: i.edit.date,
    ageDays: 0,
    step: 'Put right',
    link: { kind: 'crew_week', id: i.sheet.week, crew: i.sheet.crew },
    subject: i.cell,
    aside: false,
  })),
)
/** By what they are, those that come first most money first. */
const all = computed(() => [...grouped([...props.ends, ...unread.value], (e) => e.kind).values()].flat())
const keyOf = (e: LooseEnd) => `${e.kind} ${e.subject}`
const may = (e: LooseEnd) => session.can(settledBy[e.kind] ?? 'nothing')
const opens = (e: LooseEnd) => may(e) || e.aside
/** The day of what is about a day; the first of those that are about several. */
const when = (e: LooseEnd) =>
  e.date
    ? `${['hole', 'not_understood'].includes(e.kind) ? '' : e.kind === 'not_handed_in' ? 'week of ' : 'since '}${day(e.date)}`
    : ''
function toggle(e: LooseEnd) {
  said.value = ''
  open.value = open.value === keyOf(e) ? '' : keyOf(e)
}
async function take(e: LooseEnd, filled: Filled) {
  if (await settle(e, filled, scope.today.value)) open.value = ''
}
async function away(e: LooseEnd, reason: string) {
  if (await setAside(e, reason)) open.value = ''
}
/** On a phone a row says all of it and is opened whole; the first are enough until more are asked for. */
const phone = useMediaQuery('(max-width: 720px)')
const most = 5
const more = ref(false)
const shown = computed(() => (phone.value && !more.value ? byStake.value.slice(0, most) : all.value))
const byStake = computed(() => [...all.value].sort((a, b) => Number(b.atStake || 0) - Number(a.atStake || 0)))
const router = useRouter()
function follow(e: LooseEnd) {
  if (opens(e)) toggle(e)
  else void router.push(addressOf(e.link))
}
const whereOf = (e: LooseEnd) => (phone.value ? `${e.title}: ${e.where}` : e.where)
const detailOf = (e: LooseEnd) => [inWords(e.detail || (phone.value ? e.why : '')), when(e)].filter(Boolean).join(', ')
const columns: Column<LooseEnd>[] = [
  { id: 'where', label: 'Where', value: whereOf, sub: detailOf },
  {
    id: 'age',
    label: 'Age',
    kind: 'number',
    width: 76,
    hideBelow: 721,
    value: (e) => (e.date && e.kind !== 'not_understood' ? e.ageDays : undefined),
    text: (e) => (e.date && e.kind !== 'not_understood' ? counted(e.ageDays, 'day') : ''),
  },
  { id: 'stake', label: 'At stake', kind: 'money', width: 104, value: (e) => e.atStake, rule: true },
  { id: 'step', label: 'Next step', width: 136, hideBelow: 721, value: (e) => e.step },
]
const asideColumns: Column<Schema['Aside']>[] = [
  {
    id: 'what',
    label: 'Loose end',
    value: (a) => `${a.title}: ${inWords(a.subject)}`,
    sub: (a) => `${a.reason}; ${a.who}, ${moment(a.at)}`,
  },
  { id: 'acts', label: 'Bring back', width: 110, value: () => '', acts: true },
]
</script>

<template>
  <div class="title-row">
    <h2>Loose ends</h2>
    <span class="soft">{{ all.length || 'none' }}{{ all.length ? ', most money first' : '' }}</span>
    <span class="end soft" role="status">{{ settled ? `${settled} settled` : '' }}</span>
  </div>
  <Ledger
    v-if="all.length"
    name="loose-ends"
    label="Loose ends"
    of="loose end"
    bare
    flat
    :columns="columns"
    :rows="shown"
    :row-key="keyOf"
    :opened="open"
    :opens="phone"
    :headless="phone"
    :group-by="phone ? undefined : (e) => `${e.title}: ${e.why}`"
    @open="follow"
  >
    <template #where="{ row }"
      ><span class="two"
        ><span :title="whereOf(row)">{{ whereOf(row) }}</span
        ><small>{{ detailOf(row) }}</small></span
      ></template
    >
    <template #step="{ row }">
      <button v-if="opens(row)" class="lnk" :aria-expanded="open === keyOf(row)" @click="toggle(row)">
        {{ row.step }}
      </button>
      <router-link v-else class="lnk" :to="addressOf(row.link)">{{ row.step }}</router-link>
    </template>
    <template #below="{ row }">
      <SettleRow
        v-if="scope.choices.value"
        :end="row"
        :ends="ends"
        :choices="scope.choices.value"
        :busy="busy"
        :said="said"
        :may="may(row)"
        @settle="take(row, $event)"
        @aside="away(row, $event)"
        @close="open = ''"
      />
    </template>
  </Ledger>
  <p v-else class="empty soft">
    No loose ends: all hours have a price, all papers a job, and nothing ready has stood unbilled for long.
  </p>
  <p v-if="shown.length < all.length" class="asides">
    <button class="lnk" @click="more = true">{{ all.length - shown.length }} more</button>
  </p>
  <p v-if="asides.length" class="asides">
    <button class="lnk" :aria-expanded="showAsides" @click="showAsides = !showAsides">
      {{ counted(asides.length, 'loose end') }} set aside
    </button>
  </p>
  <Ledger
    v-if="showAsides && asides.length"
    name="asides"
    label="Set aside"
    of="loose end"
    bare
    flat
    headless
    :columns="asideColumns"
    :rows="asides"
    :row-key="(a) => `${a.kind} ${a.subject}`"
  >
    <template #acts="{ row }"><button class="lnk" @click="bringBack(row)">Bring back</button></template>
  </Ledger>
</template>

<style scoped>
.asides {
  padding: 8px 16px;
}
</style>

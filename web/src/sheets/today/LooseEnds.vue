<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import { counted, day, moment } from '@/parts/figures'
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
const all = computed(() => [...props.ends, ...unread.value])
const keyOf = (e: LooseEnd) => `${e.kind} ${e.subject}`
const groups = computed(() => {
  const found = new Map<string, LooseEnd[]>()
  for (const e of all.value) found.set(e.kind, [...(found.get(e.kind) ?? []), e])
  return [...found.values()]
})
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
</script>

<template>
  <div class="title-row">
    <h2>Loose ends</h2>
    <span class="soft">{{ all.length || 'none' }}{{ all.length ? ', most money first' : '' }}</span>
    <span v-if="settled" class="end soft" role="status">{{ settled }} settled</span>
  </div>
  <table v-if="all.length" class="ledger" aria-label="Loose ends">
    <colgroup>
      <col class="c-what" />
      <col />
      <col style="width: 50px" />
      <col class="c-stake" />
      <col class="c-step" />
    </colgroup>
    <thead>
      <tr>
        <th scope="col">What it is</th>
        <th scope="col">Where</th>
        <th scope="col" class="num">Age</th>
        <th scope="col" class="num money">At stake</th>
        <th scope="col">To settle it</th>
      </tr>
    </thead>
    <tbody v-for="g in groups" :key="g[0]!.kind">
      <template v-for="(e, i) in g" :key="keyOf(e)">
        <tr :class="{ chosen: open === keyOf(e) }">
          <td v-if="i === 0" :rowspan="g.length + (g.some((x) => open === keyOf(x)) ? 1 : 0)" class="what">
            <span class="two"
              ><span class="strong">{{ e.title }}</span
              ><small>{{ e.why }}</small></span
            >
          </td>
          <td>
            <span class="two"
              ><span :title="e.where">{{ e.where }}</span
              ><small>{{ [e.detail, when(e)].filter(Boolean).join(', ') }}</small></span
            >
          </td>
          <td class="num">{{ e.date && e.kind !== 'not_understood' ? `${e.ageDays} d` : '' }}</td>
          <td class="num money">
            <Amount :of="e.atStake" /><span v-if="e.kind === 'hole' && e.atStake" class="sr">, about</span>
          </td>
          <td>
            <button v-if="opens(e)" class="lnk" :aria-expanded="open === keyOf(e)" @click="toggle(e)">
              {{ e.step }}
            </button>
            <router-link v-else class="lnk" :to="addressOf(e.link)">{{ e.step }}</router-link>
          </td>
        </tr>
        <tr v-if="open === keyOf(e) && scope.choices.value" class="opened">
          <td colspan="4">
            <SettleRow
              :end="e"
              :ends="ends"
              :choices="scope.choices.value"
              :busy="busy"
              :said="said"
              :may="may(e)"
              @settle="take(e, $event)"
              @aside="away(e, $event)"
              @close="open = ''"
            />
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <p v-else class="empty soft">Nothing slips: all hours have a price, all papers a job, and nothing waits too long.</p>
  <p v-if="asides.length" class="asides">
    <button class="lnk" :aria-expanded="showAsides" @click="showAsides = !showAsides">
      {{ counted(asides.length, 'loose end') }} set aside
    </button>
  </p>
  <table v-if="showAsides && asides.length" class="ledger" aria-label="Set aside">
    <tbody>
      <tr v-for="a in asides" :key="`${a.kind} ${a.subject}`">
        <td>
          <span class="two"
            ><span>{{ a.title }}: {{ a.subject }}</span
            ><small>{{ a.reason }}; {{ a.who }}, {{ moment(a.at) }}</small></span
          >
        </td>
        <td class="back"><button class="lnk" @click="bringBack(a)">Bring back</button></td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
tr > td:first-child:not(.what) {
  padding-left: 8px;
}
.c-what {
  width: 146px;
}
.c-stake {
  width: 92px;
}
.c-step {
  width: 126px;
}
@media (max-width: 1180px) {
  .c-what {
    width: 122px;
  }
  .c-stake {
    width: 76px;
  }
  .c-step {
    width: 122px;
  }
  td,
  th,
  tr > td:first-child:not(.what) {
    padding-inline: 6px;
  }
  tr > .what,
  tr > th:first-child {
    padding-left: 16px;
  }
}
.what {
  vertical-align: top;
  padding-top: 2px;
}
.ledger .opened > td {
  height: auto;
  padding: 0;
  background: var(--denim-wash);
  white-space: normal;
  overflow: visible;
}
.asides {
  padding: 8px 16px;
}
.back {
  width: 110px;
}
</style>

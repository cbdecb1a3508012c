<script setup lang="ts">
import { ref } from 'vue'
import Amount from '@/parts/Amount.vue'
import { counted, figure, hours, weekday, addDays } from '@/parts/figures'
import PaperView from '@/parts/PaperView.vue'
import { useUndo } from '@/book/undo'
import ReturnForm from './ReturnForm.vue'
import type { Row, Waiting } from './waiting'

/** The approval list on a phone: one opens in place, several are chosen and decided on at the foot. */
const props = defineProps<{ waiting: Waiting; reasons: (row: Row) => string[] }>()
const { rows, chosen, picked, busy, said, toggle, sums, decide } = props.waiting
const undo = useUndo()
const open = ref('')
const returning = ref<Row[]>([])
function show(r: Row) {
  open.value = open.value === r.key ? '' : r.key
  returning.value = []
}
async function back(reason: string) {
  if (await decide('/api/return', returning.value, reason)) returning.value = []
}
const approve = (of: Row[]) => decide('/api/approve', of)
const what = (of: Row[]) => (sums(of).hours ? `${hours(sums(of).hours)} h` : counted(of.length, 'paper'))
</script>

<template>
  <div class="phone-list">
    <p class="count">
      <b>{{ rows.length }} not approved</b
      ><span class="soft">{{ picked.length ? `${picked.length} chosen` : '' }}</span>
    </p>
    <p v-if="said" class="said" role="alert">{{ said }}</p>
    <p v-else class="soft" role="status">{{ undo.said }}</p>
    <ul>
      <template v-for="(r, i) in rows" :key="r.key">
        <li v-if="r.group !== rows[i - 1]?.group" class="group">{{ r.group }}</li>
        <li :class="{ on: open === r.key }">
          <div class="row">
            <label class="pick"
              ><input type="checkbox" class="box" :checked="chosen.includes(r.key)" @change="toggle(r)" /><span
                class="sr"
                >Choose {{ r.title }}</span
              ></label
            >
            <button class="who" :aria-expanded="open === r.key" @click="show(r)">
              <span class="name">{{ r.title }}</span>
              <span v-if="r.marks.length" class="warnword">{{ r.marks[0]!.what }}: {{ r.marks[0]!.against }}</span>
              <span v-else class="soft">{{ r.sub }}</span>
            </button>
            <span class="much"
              ><b v-if="r.week">{{ hours(r.hours) }} h</b><Amount :of="r.cost"
            /></span>
          </div>
          <div v-if="open === r.key" class="opened">
            <p v-for="m in r.marks.slice(1)" :key="m.what" class="warnword">{{ m.what }}: {{ m.against }}</p>
            <ol v-if="r.week" class="days" aria-label="Hours by day">
              <template v-for="(h, n) in r.week.days" :key="n">
                <li v-if="h || n < 5" :class="{ none: !h }">
                  <span>{{ weekday(addDays(r.week.week, n)) }}</span><b>{{ h ? figure(h) : 'none' }}</b>
                </li>
              </template>
            </ol>
            <p v-if="r.week" class="soft">
              Cost {{ figure(r.cost) }}{{ r.charge ? `, charge ${figure(r.charge)}` : '' }}
            </p>
            <PaperView v-else :document="r.documents[0]!.id" />
            <div class="two-acts">
              <v-btn size="large" @click="returning = [r]">Return</v-btn>
              <v-btn size="large" class="go" :loading="busy" @click="approve([r])">Approve {{ what([r]) }}</v-btn>
            </div>
            <ReturnForm
              v-if="returning.length === 1 && returning[0] === r"
              :busy="busy"
              :many="1"
              :reasons="reasons(r)"
              @back="back"
              @leave="returning = []"
            />
          </div>
        </li>
      </template>
    </ul>
    <div v-if="picked.length" class="foot">
      <ReturnForm
        v-if="returning.length && returning[0]?.key !== open"
        :busy="busy"
        :many="returning.length"
        :reasons="reasons(returning[0]!)"
        @back="back"
        @leave="returning = []"
      />
      <div class="two-acts">
        <v-btn size="large" @click="((open = ''), (returning = picked))">Return</v-btn>
        <v-btn size="large" class="go" :loading="busy" @click="approve(picked)"
          >Approve {{ picked.length }}, {{ what(picked) }}</v-btn
        >
      </div>
    </div>
  </div>
</template>

<style scoped>
.phone-list {
  overflow: auto;
  min-height: 0;
  display: flex;
  flex-direction: column;
  font-size: 0.9375rem;
}
ul,
ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
.count {
  display: flex;
  gap: 12px;
  align-items: baseline;
  padding: 10px 16px;
  font-size: 1.0625rem;
}
.group {
  padding: 6px 16px;
  background: var(--paper-back);
  border-block: 1px solid var(--rule);
  font-weight: 640;
}
.row {
  display: grid;
  grid-template-columns: 3rem minmax(0, 1fr) auto;
  min-height: 3.375rem;
  align-items: center;
  border-bottom: 1px solid var(--rule-faint);
  padding-right: 16px;
}
.pick {
  display: grid;
  place-items: center;
  height: 100%;
}
.who {
  display: grid;
  text-align: left;
  padding: 6px 0;
  line-height: 1.25rem;
}
.who > :last-child {
  font-size: 0.8125rem;
}
.name {
  font-weight: 620;
}
.much {
  display: grid;
  justify-items: end;
  font-size: 0.8125rem;
}
.on .row {
  background: var(--denim-wash);
  box-shadow: inset 4px 0 0 var(--denim);
}
.opened {
  background: var(--denim-wash);
  box-shadow: inset 4px 0 0 var(--denim);
  padding: 10px 16px 14px;
  display: grid;
  gap: 10px;
}
.days {
  display: flex;
  border: 1px solid var(--denim-line);
  background: var(--paper);
}
.days li {
  flex: 1;
  display: grid;
  justify-items: center;
  padding: 4px 2px;
  border-left: 1px solid var(--denim-line);
}
.days li:first-child {
  border-left: 0;
}
.days .none {
  background: var(--ochre-wash);
  color: var(--ochre-ink);
}
.two-acts {
  display: grid;
  grid-template-columns: 2fr 3fr;
  gap: 10px;
}
.two-acts .v-btn {
  height: 2.75rem;
  font-size: 0.9375rem;
}
.foot {
  position: sticky;
  bottom: 0;
  margin-top: auto;
  padding: 10px 16px;
  background: var(--paper);
  border-top: 1px solid var(--rule-strong);
  display: grid;
  gap: 10px;
}
</style>

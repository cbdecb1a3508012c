<script setup lang="ts">
import { mdiChevronLeft, mdiChevronRight } from '@mdi/js'
import Icon from '@/parts/Icon.vue'
import { addDays, dayNumber, figure, hours, shortDay, weekday } from '@/parts/figures'
import type { ClockPage } from './own'

/** A worker's own week: a bar a day up to the usual hours, and what is over. */
const props = defineProps<{ page: ClockPage }>()
defineEmits<{ week: [date: string]; fill: [date: string]; handIn: [] }>()
const usual = () => Number(props.page.dayHours ?? 8) * 60
const most = 13 * 60
const wide = (minutes: number) => `${Math.min(100, (minutes / most) * 100)}%`
const worked = () => (props.page.days ?? []).filter((d) => d.minutes).length
</script>

<template>
  <section class="week" aria-label="My week">
    <header>
      <h2>My week</h2>
      <button aria-label="Earlier" @click="$emit('week', addDays(page.week, -7))">
        <Icon :path="mdiChevronLeft" :size="20" />
      </button>
      <b>{{ shortDay(page.week) }} – {{ shortDay(addDays(page.week, 6)) }}</b>
      <button
        aria-label="Later"
        :disabled="addDays(page.week, 7) > page.today"
        @click="$emit('week', addDays(page.week, 7))"
      >
        <Icon :path="mdiChevronRight" :size="20" />
      </button>
    </header>
    <ul>
      <template v-for="d in page.days" :key="d.date">
        <li v-if="d.minutes || d.hole || d.date === page.today" :class="{ hole: d.hole }">
          <b>{{ weekday(d.date) }} {{ dayNumber(d.date) }}</b>
          <template v-if="d.hole">
            <span class="warnword">No hours. Were you off?</span>
            <button class="lnk" @click="$emit('fill', d.date)">Fill in</button>
          </template>
          <template v-else>
            <span class="places"
              ><span class="bar" aria-hidden="true"
                ><i :style="{ width: wide(Math.min(d.minutes, usual())) }"></i
                ><i class="over" :style="{ width: wide(Math.max(0, d.minutes - usual())) }"></i
                ><u :style="{ left: wide(usual()) }"></u></span
              ><small v-for="e in d.entries" :key="e.id">{{ e.place }}</small></span
            >
            <span class="num">{{ figure(d.hours) || '0' }}</span>
            <span class="num over-text">{{ d.overtime ? `${figure(d.overtime)} over` : '' }}</span>
          </template>
        </li>
      </template>
      <li class="total">
        <b>Week</b><span>{{ worked() }} {{ worked() === 1 ? 'day' : 'days' }}</span
        ><span class="num">{{ hours(page.hours) }}</span
        ><span class="num over-text">{{ page.overtime ? `${figure(page.overtime)} over` : '' }}</span>
      </li>
    </ul>
    <v-btn class="wide" :disabled="!page.drafts" @click="$emit('handIn')">
      {{ page.drafts ? 'Hand in my week' : 'Nothing to hand in' }}
    </v-btn>
  </section>
</template>

<style scoped>
header {
  display: flex;
  align-items: center;
  gap: 8px;
  border-top: 1px solid var(--ink);
  border-bottom: 1px solid var(--ink);
  height: 2.875rem;
}
header button {
  width: 2.75rem;
  height: 2.75rem;
}
header button:disabled {
  opacity: 0.35;
}
h2 {
  font-size: 1.1875rem;
  font-weight: 680;
  margin-right: auto;
}
li {
  display: grid;
  grid-template-columns: 3.875rem minmax(0, 1fr) 2.875rem 3.25rem;
  align-items: center;
  min-height: 2.8125rem;
  border-bottom: 1px solid var(--rule);
  gap: 4px;
}
li.hole {
  background: var(--ochre-wash);
  grid-template-columns: 3.875rem minmax(0, 1fr) auto;
}
li.hole button {
  min-height: 2.75rem;
  padding: 0 6px;
}
.places small {
  display: block;
  font-size: 0.75rem;
  line-height: 0.9375rem;
  color: var(--ink-soft);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bar {
  position: relative;
  display: flex;
  height: 0.6875rem;
}
.bar i {
  background: var(--denim);
}
.bar i.over {
  background: var(--ochre);
}
.bar u {
  position: absolute;
  top: -3px;
  bottom: -3px;
  border-left: 1.5px dotted var(--ink);
}
.num {
  font-weight: 640;
  font-size: 1rem;
}
.over-text {
  font-size: 0.75rem;
  color: var(--ochre-ink);
}
.total {
  background: var(--paper-back);
  border-top: 1px solid var(--ink);
  border-bottom: 3px double var(--ink);
}
.wide {
  width: 100%;
  height: 3rem;
  margin-top: 12px;
  font-size: 1rem;
}
</style>

<script setup lang="ts">
import { figure } from '@/parts/figures'
import { hoursOf } from './day'

/** Does the day foot? What the clock says against what is on jobs. */
defineProps<{
  clock: number
  placed: number
  open: { name: string; minutes: number }[]
  places: { name: string; minutes: number }[]
}>()
const shown = (minutes: number) => figure(hoursOf(minutes)) || '0'
</script>

<template>
  <div class="foot-notes">
    <section>
      <h2>Does the day foot?</h2>
      <dl>
        <div>
          <dt>Worked, by the clock</dt>
          <dd>{{ shown(clock) }}</dd>
        </div>
        <div>
          <dt>Placed on jobs</dt>
          <dd>{{ shown(placed) }}</dd>
        </div>
        <div v-for="o in open" :key="o.name" class="left">
          <dt>{{ o.minutes > 0 ? 'Still to place' : 'More on jobs than worked' }}, {{ o.name }}</dt>
          <dd>{{ shown(o.minutes) }}</dd>
        </div>
        <div v-if="!open.length" class="sum">
          <dt>{{ clock ? 'It foots' : 'No clock times; hours alone are enough' }}</dt>
          <dd>{{ clock ? '0' : '' }}</dd>
        </div>
      </dl>
    </section>
    <section>
      <h2>By job</h2>
      <dl>
        <div v-for="(p, i) in places" :key="i">
          <dt>{{ p.name }}</dt>
          <dd>{{ shown(p.minutes) }}</dd>
        </div>
        <div class="sum">
          <dt>Total</dt>
          <dd>{{ shown(placed) }}</dd>
        </div>
      </dl>
    </section>
  </div>
</template>

<style scoped>
.foot-notes {
  display: flex;
  gap: 34px;
  padding: 14px 16px;
}
section {
  width: 23.125rem;
}
h2 {
  font-weight: 640;
  font-size: 0.9375rem;
  padding-bottom: 6px;
}
dl > div {
  display: flex;
  justify-content: space-between;
  line-height: 1.4375rem;
  border-bottom: 1px solid var(--rule-faint);
}
.left {
  color: var(--ochre-ink);
  font-weight: 640;
}
.sum {
  font-weight: 640;
  border-bottom: 3px double var(--ink);
}
</style>

<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import SumTable from '@/parts/SumTable.vue'
import { figure } from '@/parts/figures'
import { bars, shares } from './account'

/** Where a customer stands: what is owed, retained and credit as one equation, how old it is, and what was billed by month. */
const props = defineProps<{ account: Schema['Account'] }>()
const aged = computed(() => shares(props.account))
const months = computed(() => bars(props.account.income ?? []))
const rows = computed(() => [
  { what: 'Not approved yet', texts: [figure(props.account.waiting)] },
  { what: 'Ready to bill', texts: [figure(props.account.ready)] },
  { what: 'On drafts, before tax', texts: [figure(props.account.onDrafts)] },
])
</script>

<template>
  <div class="account">
    <dl class="equation">
      <div>
        <dt>owed</dt>
        <dd><Amount :of="account.owed" /></dd>
      </div>
      <div data-op="+">
        <dt>retained</dt>
        <dd><Amount :of="account.retained" /></dd>
      </div>
      <div data-op="−">
        <dt>credit</dt>
        <dd><Amount :of="account.credit" /></dd>
      </div>
      <div data-op="=">
        <dt>total</dt>
        <dd><Amount :of="account.total" /></dd>
      </div>
      <div v-if="account.paysAfter" class="apart">
        <dt>pays after, on average</dt>
        <dd>{{ account.paysAfter }} days</dd>
      </div>
    </dl>
    <ul class="ages" aria-label="How old it is">
      <li v-for="a in aged" :key="a.label" :class="a.kind" :style="{ flexGrow: a.share }">
        <span
          >{{ a.label }} <b>{{ Number(a.amount) ? figure(a.amount) : '–' }}</b></span
        ><i></i>
      </li>
    </ul>
    <div class="two-parts">
      <SumTable label="Not invoiced yet" :heads="['Not invoiced yet', 'Charge']" :rows="rows" />
      <figure>
        <figcaption>
          <b>Billed by month</b>, less credit notes: {{ figure(account.year) }} in twelve months, sales tax
          {{ figure(account.yearTax) }}
        </figcaption>
        <ol>
          <li v-for="m in months" :key="m.month" :aria-label="`${m.name}: ${figure(m.billed)}`">
            <span class="num">{{ m.short }}</span><i :style="{ height: `${m.tall}px` }"></i
            ><i v-if="m.drafted" class="draft" :style="{ height: `${m.drafted}px` }"></i><small>{{ m.letter }}</small>
          </li>
        </ol>
      </figure>
    </div>
  </div>
</template>

<style scoped>
.account {
  flex: none;
}
.equation {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  padding: 9px 16px;
  border-bottom: 1px solid var(--rule-strong);
}
.apart {
  margin-left: auto;
}
.ages {
  display: flex;
  gap: 2px;
  list-style: none;
  padding: 8px 16px 10px;
  margin: 0;
  border-bottom: 1px solid var(--ink);
}
.ages li {
  flex: 1 0 5.5rem;
  font-size: var(--t-sub);
  white-space: nowrap;
}
.ages i {
  display: block;
  height: 12px;
  margin-top: 3px;
  border: 1px solid var(--rule-strong);
}
.due i {
  background: var(--denim);
}
.late i {
  background: var(--ochre);
}
.late b {
  color: var(--ochre-ink);
}
.retained i,
.draft {
  background: repeating-linear-gradient(-45deg, var(--denim) 0 1.5px, transparent 1.5px 5px);
  border-color: var(--denim);
}
.two-parts {
  display: grid;
  grid-template-columns: minmax(0, 17rem) minmax(0, 1fr);
  gap: 24px;
  align-items: start;
  padding: 8px 16px;
  border-bottom: 1px solid var(--ink);
}
figure {
  margin: 0;
}
ol {
  display: flex;
  align-items: flex-end;
  gap: 10px;
  list-style: none;
  margin: 0;
  padding: 6px 0 0;
}
ol li {
  flex: 1;
  max-width: 2.5rem;
  text-align: center;
  font-size: var(--t-sub);
}
ol i {
  display: block;
  min-height: 1px;
  background: var(--denim);
}
ol .draft {
  border: 1px solid var(--denim);
}
ol small {
  color: var(--ink-soft);
}
@media (max-width: 720px) {
  .ages {
    flex-wrap: wrap;
  }
  .two-parts {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>

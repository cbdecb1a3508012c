<script setup lang="ts">
import { mdiChevronDown, mdiChevronLeft, mdiChevronRight } from '@mdi/js'
import { computed, reactive, ref } from 'vue'
import { spanNames, spans, useScope, type Span } from '@/book/scope'
import CalendarCard from './CalendarCard.vue'
import FormField from './FormField.vue'
import Icon from './Icon.vue'
import { addDays } from './figures'

/** The head of a sheet: Where and When as blanks on a form, then what the sheet adds. A bare one asks neither. */
const props = defineProps<{ title: string; weekOnly?: boolean; hideWhen?: boolean; bare?: boolean }>()
const scope = useScope()
const typed = ref('')
const open = ref(false)
const jobs = computed(() => {
  const words = typed.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (scope.choices.value?.jobs ?? [])
    .filter(
      (j) =>
        j.status !== 'closed' && words.every((w) => `${j.number} ${j.name} ${j.customer}`.toLowerCase().includes(w)),
    )
    .slice(0, 30)
})
const shownSpans = computed(() => (props.weekOnly ? [] : spans))
/** The day, week, month, quarter or year of a date; a range begins there, as long as it was. */
const dating = ref(false)
function goTo(date: string) {
  if (scope.span.value !== 'range') return scope.change({ from: date })
  const days = (Date.parse(scope.to.value) - Date.parse(scope.from.value)) / 86_400_000
  return scope.change({ from: date, to: addDays(date, days) })
}
/** A span of one's own is typed; the others are chosen. */
const choosing = ref(false)
const ranging = ref(false)
const range = reactive({ from: '', to: '' })
const rangeWrong = ref('')
function chooseSpan(span: Span) {
  ranging.value = span === 'range'
  if (ranging.value) {
    Object.assign(range, { from: scope.from.value || scope.today.value, to: scope.to.value || scope.today.value })
    return
  }
  choosing.value = false
  void scope.change({ span: span === 'week' ? '' : span, to: '' })
}
function takeRange() {
  const dates = [range.from, range.to].every((d) => /^\d{4}-\d\d-\d\d$/.test(d))
  rangeWrong.value = !dates
    ? 'Type both dates, such as 3/9 or 18 Nov'
    : range.to < range.from
      ? 'This is before the start'
      : ''
  if (rangeWrong.value) return
  choosing.value = false
  void scope.change({ span: 'range', from: range.from, to: range.to })
}
function choose(number: string) {
  open.value = false
  typed.value = ''
  void scope.change({ job: number })
}
</script>

<template>
  <div class="head">
    <h1 class="sr">{{ title }}</h1>
    <div v-if="!bare" class="blank where">
      <span class="label">Where</span>
      <v-menu v-model="open" :close-on-content-click="false">
        <template #activator="{ props: opens }">
          <button id="where" class="blank-value" v-bind="opens">
            <span class="clip">{{ scope.jobName.value }}</span> <Icon :path="mdiChevronDown" />
          </button>
        </template>
        <div class="when">
          <div class="type-job">
            <input
              v-model="typed"
              aria-label="Part of a job's number or name"
              placeholder="Number, name or customer"
              autofocus
              @keydown.enter="choose(typed ? (jobs[0]?.number ?? '') : '')"
            />
          </div>
          <v-list width="340" max-height="380">
            <v-list-item title="All jobs" @click="choose('')" />
            <v-list-item
              v-for="j in jobs"
              :key="j.id"
              :title="`${j.number} ${j.name}`"
              :subtitle="j.customer || 'own'"
              @click="choose(j.number)"
            />
          </v-list>
        </div>
      </v-menu>
    </div>
    <div v-if="!bare && !hideWhen" class="blank">
      <span class="label">When</span>
      <span class="blank-value">
        <button aria-label="Earlier" :disabled="scope.span.value === 'all'" @click="scope.move(-1)">
          <Icon :path="mdiChevronLeft" :size="18" />
        </button>
        <v-menu v-if="scope.span.value !== 'all'" v-model="dating" :close-on-content-click="false">
          <template #activator="{ props: opens }">
            <button v-bind="opens" class="dates" title="Choose a date">{{ scope.when.value }}</button>
          </template>
          <CalendarCard
            v-if="dating"
            :date="scope.from.value"
            @choose="(date) => ((dating = false), goTo(date))"
            @close="dating = false"
          />
        </v-menu>
        <span v-else>{{ scope.when.value }}</span>
        <button aria-label="Later" :disabled="scope.span.value === 'all'" @click="scope.move(1)">
          <Icon :path="mdiChevronRight" :size="18" />
        </button>
      </span>
      <v-menu v-if="shownSpans.length" v-model="choosing" :close-on-content-click="false">
        <template #activator="{ props: opens }">
          <button class="soft span" v-bind="opens">
            {{ spanNames[scope.span.value] }} <Icon :path="mdiChevronDown" :size="14" />
          </button>
        </template>
        <div class="when">
          <v-list><v-list-item v-for="s in shownSpans" :key="s" :title="spanNames[s]" @click="chooseSpan(s)" /></v-list>
          <form v-if="ranging" class="range" aria-label="From and to" @submit.prevent="takeRange">
            <FormField v-model="range.from" label="From" kind="date" />
            <FormField v-model="range.to" label="To" kind="date" :wrong="rangeWrong" />
            <v-btn class="small go" type="submit">Show</v-btn>
          </form>
        </div>
      </v-menu>
    </div>
    <slot />
    <div class="acts"><slot name="acts" /></div>
  </div>
</template>

<style scoped>
.dates {
  font: inherit;
  min-height: 1.5rem;
}
.when {
  background: var(--paper);
}
.range {
  display: flex;
  align-items: flex-end;
  gap: 12px;
  padding: 10px 12px 12px;
  min-height: 20rem;
  align-items: flex-start;
}
.range > .field {
  width: 8.125rem;
}
.clip {
  max-width: 15rem;
  overflow: hidden;
  text-overflow: ellipsis;
}
.span {
  display: flex;
  align-items: center;
  gap: 2px;
}
.type-job {
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
}
.type-job input {
  width: 100%;
  height: 1.75rem;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
}
@media (max-width: 720px) {
  .where,
  .span {
    display: none;
  }
}
</style>

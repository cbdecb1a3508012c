<script setup lang="ts">
import { mdiChevronDown, mdiChevronLeft, mdiChevronRight } from '@mdi/js'
import { computed, ref } from 'vue'
import { spans, useScope } from '@/book/scope'
import Icon from './Icon.vue'

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
        <v-list width="340" max-height="420">
          <div class="type-job">
            <input
              v-model="typed"
              aria-label="Part of a job's number or name"
              placeholder="Number, name or customer"
              autofocus
              @keydown.enter="choose(typed ? (jobs[0]?.number ?? '') : '')"
            />
          </div>
          <v-list-item title="All jobs" @click="choose('')" />
          <v-list-item
            v-for="j in jobs"
            :key="j.id"
            :title="`${j.number} ${j.name}`"
            :subtitle="j.customer || 'own'"
            @click="choose(j.number)"
          />
        </v-list>
      </v-menu>
    </div>
    <div v-if="!bare && !hideWhen" class="blank">
      <span class="label">When</span>
      <span class="blank-value">
        <button aria-label="Earlier" :disabled="scope.span.value === 'all'" @click="scope.move(-1)">
          <Icon :path="mdiChevronLeft" :size="18" />
        </button>
        <span>{{ scope.when.value }}</span>
        <button aria-label="Later" :disabled="scope.span.value === 'all'" @click="scope.move(1)">
          <Icon :path="mdiChevronRight" :size="18" />
        </button>
      </span>
      <v-menu v-if="shownSpans.length">
        <template #activator="{ props: opens }">
          <button class="soft span" v-bind="opens">
            {{ scope.span.value }} <Icon :path="mdiChevronDown" :size="14" />
          </button>
        </template>
        <v-list
          ><v-list-item
            v-for="s in shownSpans"
            :key="s"
            :title="s"
            @click="scope.change({ span: s === 'week' ? '' : s })"
        /></v-list>
      </v-menu>
    </div>
    <slot />
    <div class="acts"><slot name="acts" /></div>
  </div>
</template>

<style scoped>
.clip {
  max-width: 240px;
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
  height: 28px;
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

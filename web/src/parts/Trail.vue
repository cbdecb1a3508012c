<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, inject, ref, useId } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { moment } from './figures'
import { inRows } from './ledger'

/**
 * How far a thing has come, as a tally: strokes for captured, approved, billed, struck through when paid. On hover and on focus it
 * says in words how far, and who brought it there and when, where it is told of what it is the trail.
 */
const props = defineProps<{
  trail: Schema['Trail']
  kind?: 'time_entry' | 'cost_document' | 'cost_line' | 'invoice'
  ids?: number[]
}>()
const queries = useQueryClient()
const amongRows = inject(inRows, false)
const told = useId()
const place = ref<{ left: string; top: string; transform?: string }>()
const steps = ref<Schema['TrailStep'][]>([])
/** Why it could not be asked who brought it there. */
const failed = ref('')
let over = 0

async function tell(event: Event) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const below = box.bottom + 150 < window.innerHeight
  place.value = {
    left: `${Math.max(8, Math.min(box.left, window.innerWidth - 348))}px`,
    ...(below ? { top: `${box.bottom + 4}px` } : { top: `${box.top - 4}px`, transform: 'translateY(-100%)' }),
  }
  const { kind, ids } = props
  if (!kind || !ids?.length) return
  const turn = ++over
  const found = await queries
    .fetchQuery({
      queryKey: ['trail', kind, ids],
      queryFn: () => answered(client.GET('/api/trail', { params: { query: { kind, ids: ids.slice(0, 400) } } })),
      staleTime: 5000,
    })
    .catch((refused: Error) => void (failed.value = refused.message))
  if (turn !== over) return
  if (found !== undefined) failed.value = ''
  steps.value = found ?? []
}
const inWords = (s: Schema['TrailStep']) =>
  [s.action, s.invoice && (s.action === 'issued' ? s.invoice : `for ${s.invoice}`), `by ${s.who}`]
    .filter(Boolean)
    .join(' ') + (s.reason ? `: ${s.reason}` : '')
function untell() {
  over++
  place.value = undefined
}
const reached = computed(() =>
  ['captured', 'submitted', 'approved', 'drafted', 'billed', 'paid'].indexOf(props.trail.stage),
)
const strokes = computed(() => [
  true,
  reached.value >= 2 ? true : reached.value === 1 ? 'half' : false,
  reached.value >= 4 ? true : reached.value === 3 ? 'dashed' : false,
])
const x = (i: number) => 3 + i * 6
</script>

<template>
  <span
    class="trail-box"
    :tabindex="amongRows ? -1 : 0"
    role="img"
    :aria-label="trail.text"
    :aria-describedby="place && steps.length ? told : undefined"
    @mouseenter="tell"
    @mouseleave="untell"
    @focus="tell"
    @blur="untell"
    @keydown.esc="untell"
  >
    <svg class="trail" viewBox="0 0 26 16" aria-hidden="true">
      <template v-for="(s, i) in strokes" :key="i">
        <path
          v-if="s"
          :d="s === 'half' ? `M${x(i)} 8v6` : `M${x(i)} 2v12`"
          :stroke-dasharray="s === 'dashed' ? '2.6 3' : undefined"
          :class="{ waits: s === 'dashed' }"
        />
        <path v-else-if="i === 2 && !trail.billable" d="M13 8h6" class="not" />
        <path v-else :d="`M${x(i)} 13v.2`" class="open" />
      </template>
      <path v-if="reached === 5" d="M0 12 20 4" />
      <path v-else-if="trail.billable" d="M21 13v.2" class="open" />
    </svg>
    <Teleport v-if="place" to=".v-overlay-container">
      <div :id="told" class="trail-told" role="tooltip" :style="place">
        <b>{{ trail.text }}</b>
        <span v-for="(step, i) in steps" :key="i"
          >{{ inWords(step) }} <span class="when">{{ moment(step.at) }}</span></span
        >
        <span v-if="failed" class="warnword">Who and when could not be read: {{ failed }}</span>
      </div>
    </Teleport>
  </span>
</template>

<style scoped>
.trail {
  display: block;
  width: 1.625rem;
  height: 1rem;
  overflow: visible;
  stroke: var(--ink);
  stroke-width: 2.2;
  stroke-linecap: round;
  fill: none;
}
.open {
  stroke: var(--mark);
  stroke-width: 2.6;
}
.waits {
  stroke: var(--ochre-ink);
}
.not {
  stroke: var(--mark);
}
.trail-told {
  position: fixed;
  z-index: 3000;
  box-sizing: border-box;
  width: 21.25rem;
  font-weight: 400;
  display: grid;
  gap: 2px;
  padding: 8px 12px;
  background: var(--paper);
  color: var(--ink);
  border: 1px solid var(--ink);
  font-size: var(--t-small);
  line-height: 1.125rem;
  pointer-events: none;
}
.trail-told b::first-letter {
  text-transform: uppercase;
}
.trail-told > span {
  display: flex;
  justify-content: space-between;
  gap: 12px;
}
.when {
  color: var(--ink-soft);
  white-space: nowrap;
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import EntryTape from './EntryTape.vue'
import Panel from './Panel.vue'
import RestsOn, { type Rest } from './RestsOn.vue'
import StepTape from './StepTape.vue'
import { figure, percent, inWords } from './figures'
import { addressOf } from './addresses'
import type { Subject } from './workings'

/** How figures came about: the tape of an adding machine, as the core made it, and the records it rests on. */
const props = defineProps<{ of?: Subject; ask: string }>()
defineEmits<{ close: [] }>()
type Step = Schema['Step']

function fetch(of: Subject): Promise<Schema['Tape']> {
  switch (of.kind) {
    case 'job':
      return answered(client.GET('/api/jobs/{number}/workings', { params: { path: { number: of.number } } }))
    case 'invoice':
      return answered(client.GET('/api/invoices/{id}/workings', { params: { path: { id: of.id } } }))
    default:
      return answered(client.GET('/api/costs/lines/{id}/workings', { params: { path: { id: of.id } } }))
  }
}
const { data, error } = useQuery({
  queryKey: ['workings', () => props.of],
  queryFn: () => fetch(props.of!),
  enabled: () => !!props.of && props.of.kind !== 'entry',
})
/** The records that operands came from, each once. */
const rests = computed(() => {
  const found = new Map<string, Rest>()
  const walk = (step: Step) => {
    for (const o of step.operands ?? [])
      if (o.from && !['time_entry', 'cost_line', 'job'].includes(o.from.kind)) {
        const paper = o.from.kind === 'cost_document'
        found.set(`${o.from.kind} ${o.from.id} ${o.from.text}`, {
          label: paper ? 'paper' : o.label,
          value: paper ? o.from.text : figure(o.value.text),
          link: addressOf(o.from),
          text: paper ? '' : `, ${o.from.text}`,
        })
      }
    step.steps?.forEach(walk)
  }
  data.value?.roots?.forEach(walk)
  return [...found.values()].slice(0, 12)
})
</script>

<template>
  <Panel class="workings" title="Workings" stands-by @close="$emit('close')">
    <p v-if="!of" class="soft">{{ ask }}</p>
    <EntryTape v-else-if="of.kind === 'entry'" :entry="of.id" />
    <p v-else-if="error" class="said" role="alert">{{ inWords(error.message) }}</p>
    <p v-else-if="!data" class="soft" role="status">Working it out…</p>
    <template v-else>
      <div class="of">
        <b>{{ data.title }}</b>
        <div v-for="line in data.about" :key="line">{{ line }}</div>
        <div v-if="data.missing" class="warnword">{{ data.missing }}</div>
      </div>
      <div class="tape">
        <table>
          <tbody v-for="root in data.roots" :key="root.label">
            <StepTape :step="root" />
          </tbody>
          <tbody v-if="data.margin">
            <tr>
              <th scope="row">Margin</th>
              <td>{{ percent(data.margin) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <RestsOn :rests="rests" :history="data.history" />
    </template>
  </Panel>
</template>

<style scoped>
.workings {
  border-left: 1px solid var(--rule);
  padding: 0 18px 16px 17px;
  overflow: auto;
  min-height: 0;
  font-stretch: 94%;
}
.workings > :deep(header) {
  height: 2.125rem;
  padding-top: 9px;
}
.workings :deep(.of) {
  padding: 6px 0 12px;
  line-height: 1.0625rem;
}
.workings :deep(.of b) {
  font-size: 0.875rem;
  font-weight: 640;
}
tbody + tbody::before {
  content: '';
  display: block;
  height: 0.625rem;
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '@/api/client'
import { useAct } from '@/book/act'
import Await from '@/parts/Await.vue'
import Panel from '@/parts/Panel.vue'
import PaperView from '@/parts/PaperView.vue'
import SumTable from '@/parts/SumTable.vue'
import SureButton from '@/parts/SureButton.vue'
import { inWords, kindNames } from '@/parts/figures'
import { differences, type Document } from './document'

/** Two papers that may be one, side by side: what differs, their lines and scans, and the double deleted. */
const props = defineProps<{ ids: [number, number] }>()
const emit = defineEmits<{ close: []; deleted: [kept: number] }>()
const paper = (which: 0 | 1) =>
  useQuery({
    queryKey: ['costs', 'paper', () => props.ids[which]],
    queryFn: () => answered(client.GET('/api/costs/{id}', { params: { path: { id: props.ids[which] } } })),
  })
const [one, other] = [paper(0), paper(1)]
const both = computed(() => (one.data.value && other.data.value ? [one.data.value, other.data.value] : undefined))
const rows = computed(() =>
  both.value
    ? differences(both.value[0]!, both.value[1]!).map((d) => ({
        what: d.what,
        texts: [inWords(d.mine) || 'none', inWords(d.theirs) || 'none'],
      }))
    : [],
)
const { busy, said, act } = useAct('papers')
const nameOf = (d: Document) => [d.supplier || kindNames[d.kind], d.number].filter(Boolean).join(' ')
async function remove(d: Document) {
  const params = { path: { id: d.id! } }
  const done = await act(() =>
    answered(client.POST('/api/costs/{id}/delete', { params, body: { version: d.version! } })),
  )
  if (done !== undefined)
    emit(
      'deleted',
      props.ids.find((id) => id !== d.id)!,
    )
}
</script>

<template>
  <Panel class="compare" title="Are they the same paper?" @close="emit('close')">
    <Await v-if="!both" :of="one.data.value ? other : one" what="the papers" />
    <template v-else>
      <p v-if="said" class="said note" role="alert">{{ said }}</p>
      <SumTable
        v-if="rows.length"
        class="note"
        label="What differs"
        :heads="['What differs', 'First', 'Second']"
        :rows="rows"
      />
      <p v-else class="note soft">They say the same in everything that is typed.</p>
      <div class="pair">
        <article v-for="(d, i) in both" :key="d.id" :aria-label="`${i ? 'Second' : 'First'}: ${nameOf(d)}`">
          <div class="title-row">
            <h2>{{ i ? 'Second' : 'First' }}: {{ nameOf(d) }}</h2>
          </div>
          <PaperView :document="d.id!" />
          <p v-if="d.locked" class="note soft">It stays: {{ d.locked }}.</p>
          <SureButton
            v-else
            class="note"
            label="Delete this one"
            sure="Its lines and scans are deleted. What it was stays in the history."
            :busy="busy"
            @sure="remove(d)"
          />
        </article>
      </div>
    </template>
  </Panel>
</template>

<style scoped>
.compare {
  overflow: auto;
}
.compare > :deep(header) {
  padding: 8px 16px;
  border-bottom: 1px solid var(--ink);
}
.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}
article + article {
  border-left: 3px double var(--rule-strong);
}
.note {
  margin: 10px 16px;
  width: auto;
}
</style>

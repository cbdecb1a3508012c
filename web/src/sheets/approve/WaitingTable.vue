<script setup lang="ts">
import { ref, watch } from 'vue'
import { useScope } from '@/book/scope'
import Ledger from '@/parts/Ledger.vue'
import Trail from '@/parts/Trail.vue'
import { counted, hours, inWords } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import DayComb from './DayComb.vue'
import type { Row, Waiting } from './waiting'

/** What waits, by crew and then papers: who, the days as a comb, what stands out, and what it costs. */
const props = defineProps<{ waiting: Waiting }>()
const emit = defineEmits<{ act: [letter: string] }>()
const scope = useScope()
const { rows, chosen, current, data, at, page } = props.waiting
const ledger = ref<{ goTo: (key: string) => Promise<void> }>()
/** The row in hand has the focus, so that its letters are heard and the next one is gone to by itself. */
watch(at, (key) => {
  const on = document.activeElement
  if (key && (on === document.body || on?.id === 'sheet' || on?.closest('.ledger-part'))) void ledger.value?.goTo(key)
})
function letter(event: KeyboardEvent) {
  if (!['a', 'r'].includes(event.key) || event.ctrlKey || event.metaKey || event.altKey || event.repeat) return
  event.preventDefault()
  emit('act', event.key)
}
const columns: Column<Row>[] = [
  { id: 'who', label: 'Worker or paper', value: (r) => r.title, sub: (r) => r.sub },
  { id: 'days', label: 'Days', width: 76, value: () => '', acts: true, hideBelow: 1181 },
  { id: 'hours', label: 'Hours', kind: 'hours', width: 64, value: (r) => r.hours, total: true },
  {
    id: 'marks',
    label: 'What stands out',
    width: 196,
    value: (r) => r.marks.map((m) => m.what).join(', '),
    sub: (r) => r.marks[0]?.against,
  },
  {
    id: 'cost',
    label: 'Cost',
    kind: 'money',
    width: 86,
    value: (r) => r.cost,
    rule: true,
    total: true,
    hideBelow: 1181,
  },
  { id: 'charge', label: 'Charge', kind: 'money', width: 86, value: (r) => r.charge, total: true },
  { id: 'trail', label: 'Trail', width: 56, value: (r) => r.trail.text, text: () => '', hideBelow: 1181 },
]
</script>

<template>
  <Ledger
    ref="ledger"
    v-model:chosen="chosen"
    name="waiting"
    label="Waiting for approval"
    of="row"
    :columns="columns"
    :rows="rows"
    :row-key="(r) => r.key"
    :row-name="(r) => `${r.title}, ${r.sub}`"
    :group-by="(r) => r.group"
    :opened="current?.key"
    opens
    chooses
    @open="(r) => (at = r.key)"
    @at="(r) => (at = r.key)"
    @key="letter"
  >
    <template #who="{ row }"
      ><span class="two"
        ><span class="strong">{{ row.title }}</span
        ><small>{{ row.sub }}{{ row.paper?.scans ? ', scan' : '' }}</small></span
      ></template
    >
    <template #days="{ row }"
      ><DayComb v-if="row.week" :days="row.week.days ?? []" :limit="scope.choices.value?.company.dailyLimit"
    /></template>
    <template #marks="{ row }"
      ><span v-if="row.marks[0]" class="two" :title="row.marks.map((m) => `${m.what}: ${m.against}`).join('\n')"
        ><span class="strong"
          ><i class="flag"></i>{{ row.marks[0].what
          }}<template v-if="row.marks.length > 1"> and {{ row.marks.length - 1 }} more</template></span
        ><small>{{ inWords(row.marks[0].against) }}</small></span
      ></template
    >
    <template #trail="{ row }"
      ><Trail
        :trail="row.trail"
        :kind="row.week ? 'time_entry' : 'cost_document'"
        :ids="(row.week ? row.entries : row.documents).map((seen) => seen.id)"
    /></template>
    <template #key
      ><p v-if="data && data.pages > 1" class="pages soft">
        Page {{ page + 1 }} of {{ data.pages }}, the oldest first: {{ counted(data.weekCount, 'week') }} and
        {{ counted(data.paperCount, 'paper') }} in all, {{ hours(data.hours) }} h.
        <v-btn class="small" :disabled="!page" @click="page--">Older</v-btn>
        <v-btn class="small" :disabled="page + 1 >= data.pages" @click="page++">Newer</v-btn>
      </p></template
    >
  </Ledger>
</template>

<style scoped>
.pages {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 10px;
  padding: 8px 16px;
}
</style>

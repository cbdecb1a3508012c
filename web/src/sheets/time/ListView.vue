<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { answered, client } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import Trail from '@/parts/Trail.vue'
import TrailKey from '@/parts/TrailKey.vue'
import { counted, day, figure } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useFooting } from '@/book/footing'
import { useOutbox } from '@/book/outbox'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import { useUndo } from '@/book/undo'
import AddLine from './AddLine.vue'
import { clockText, entryActs, entryCell, type EntryRow } from './entries'
import FirstHours from './FirstHours.vue'
import TimeHead from './TimeHead.vue'
import WrongCell from './WrongCell.vue'

/** The entries one by one, with start, finish and break: where there are several of a line on one day, they are changed here. */
const scope = useScope()
const session = useSession()
const outbox = useOutbox()
const undo = useUndo()
const footing = useFooting()
const choices = scope.choices
const money = computed(() => session.can('money'))
const crew = computed(() => scope.text('crew'))
const query = computed(() => ({ ...scope.query.value, crew: crew.value }))
const asked = useQuery({
  queryKey: ['time-list', query],
  queryFn: () => answered(client.GET('/api/time/entries', { params: { query: query.value } })),
})
const { data } = asked
const acts = entryActs(() => ({ crew: crew.value, job: scope.job.value }))
const said = ref('')
const body = ref<HTMLElement>()
const nothing = computed(() => !!choices.value && (!choices.value.workers?.length || !choices.value.jobs?.length))
const fresh = computed(() => outbox.items.filter((i) => i.cell.startsWith('new|')))
watch(query, () => undo.forget(), { immediate: true })
watch(
  () => undo.said,
  (text) => (said.value = text),
)
watch(
  data,
  (list) => {
    if (list)
      footing.show(`${crew.value || scope.jobName.value}, ${scope.short.value}`, [
        { label: 'Hours', value: list.hours },
        { label: 'Entries', value: String(list.count) },
      ])
  },
  { immediate: true },
)

const wrongOf = (row: EntryRow) => outbox.unsaved.get(entryCell(row.id))
const shownText = (row: EntryRow) => wrongOf(row)?.edit.text ?? figure(row.hours)
const place = (r: EntryRow) =>
  [r.phase?.name, r.costCode && `${r.costCode.name} · ${r.costCode.code}`].filter(Boolean).join(' · ')

type Part = 'start' | 'finish' | 'break' | 'hours' | 'note'
/** What is typed into a field: the rows are read again meanwhile. What was taken stays until the row it was taken from is read anew. */
const drafts = reactive(new Map<string, { text: string; taken?: number }>())
const draftKey = (row: EntryRow, part: Part) => `${row.id}|${part}`
function standing(row: EntryRow, part: Part): string {
  if (part === 'hours') return shownText(row)
  return (part === 'note' ? (wrongOf(row)?.edit.note ?? row.note) : row[part]) ?? ''
}
function draftOf(row: EntryRow, part: Part): string | undefined {
  const draft = drafts.get(draftKey(row, part))
  return draft && (draft.taken === undefined || draft.taken === row.version) ? draft.text : undefined
}
const shown = (row: EntryRow, part: Part) => draftOf(row, part) ?? standing(row, part)
const typeInto = (row: EntryRow, part: Part, event: Event) =>
  drafts.set(draftKey(row, part), { text: (event.target as HTMLInputElement).value })

function take(row: EntryRow, part: Part) {
  const typed = draftOf(row, part)?.trim()
  said.value = ''
  if (typed === undefined) return
  if (part === 'note' || part === 'hours') {
    drafts.delete(draftKey(row, part))
    if (typed !== standing(row, part)) acts.change(row, part === 'note' ? { note: typed } : { text: typed })
    return
  }
  const text = clockText(shown(row, 'start'), shown(row, 'finish'), shown(row, 'break'))
  if (!text) {
    said.value = 'A start needs a finish, and a finish a start'
    return
  }
  for (const clock of ['start', 'finish', 'break'] as const)
    drafts.set(draftKey(row, clock), { text: shown(row, clock), taken: row.version })
  if (text !== (wrongOf(row)?.edit.text ?? row.text)) acts.change(row, { text })
}
function move(event: KeyboardEvent, by: 1 | -1) {
  const field = event.target as HTMLInputElement
  const all = [...(body.value?.querySelectorAll<HTMLInputElement>(`[data-part="${field.dataset.part}"]`) ?? [])]
  const next = all[all.indexOf(field) + by]
  if (next) {
    next.focus()
    next.select()
  } else field.blur()
}
const typedParts = ['start', 'finish', 'break', 'hours', 'note'] as const
const rowClass = (row: EntryRow) =>
  [row.locked ? 'locked' : '', wrongOf(row) && !wrongOf(row)?.said ? 'waits' : ''].join(' ')
const columns = computed<Column<EntryRow>[]>(() => [
  { id: 'date', label: 'Date', kind: 'date', width: 108, value: (r) => r.date, text: (r) => day(r.date) },
  { id: 'worker', label: 'Worker', width: 130, value: (r) => r.worker.name, tone: 'strong' },
  {
    id: 'job',
    label: 'Job, phase, code',
    value: (r) => `${r.job.code} ${r.job.name}`,
    sub: (r) =>
      [place(r) || 'no code', r.payClass === 'auto' ? '' : r.payClass, r.ownRate ? 'own rate' : '']
        .filter(Boolean)
        .join(' · '),
  },
  { id: 'bill', label: 'Bill', width: 44, value: (r) => (r.billable ? 'yes' : 'no') },
  { id: 'start', label: 'Start', width: 62, value: (r) => r.start },
  { id: 'finish', label: 'Finish', width: 62, value: (r) => r.finish },
  { id: 'break', label: 'Break', width: 54, value: (r) => r.break },
  { id: 'hours', label: 'Hours', kind: 'hours', width: 64, value: (r) => r.hours, total: true },
  { id: 'overtime', label: 'OT', kind: 'hours', width: 46, value: (r) => r.overtime, total: true, title: 'Overtime' },
  ...(money.value
    ? ([
        { id: 'cost', label: 'Cost', kind: 'money', width: 78, value: (r) => r.cost, rule: true, total: true },
        { id: 'charge', label: 'Charge', kind: 'money', width: 80, value: (r) => r.charge, total: true },
      ] satisfies Column<EntryRow>[])
    : []),
  { id: 'note', label: 'Note', width: 150, value: (r) => r.note, hideBelow: 1100 },
  { id: 'trail', label: 'Trail', width: 52, value: (r) => r.trail.text, text: () => '' },
])
</script>

<template>
  <div class="sheet">
    <TimeHead view="list" :crews="data?.crews ?? []">
      <template #acts
        ><span class="told" role="status">{{ said }}</span></template
      >
    </TimeHead>
    <div class="split one">
      <section>
        <FirstHours v-if="nothing" />
        <Await v-else v-slot="{ data: list }" :of="asked" what="the entries">
          <div ref="body" class="listing">
            <Ledger
              name="entries"
              label="Entries"
              of="entry"
              :columns="columns"
              :rows="list.entries ?? []"
              :row-key="(r) => r.id"
              :row-class="rowClass"
              :under="(r) => !!wrongOf(r)?.said"
              :sums="{ hours: list.hours }"
            >
              <template #first="{ columns: wide }">
                <AddLine
                  v-if="choices"
                  :members="list.members ?? []"
                  :choices="choices"
                  :job="scope.job.value"
                  :columns="wide"
                  :day="scope.to.value && scope.to.value < scope.today.value ? scope.to.value : scope.today.value"
                  @add="acts.add"
                />
                <tr v-for="item in fresh" :key="item.id">
                  <td class="error-line" :colspan="wide">
                    <WrongCell
                      v-if="item.said"
                      :item="item"
                      :day="`${item.place.worker.name}, ${day(item.edit.date)}, ${item.edit.text}`"
                    />
                    <span v-else class="soft">{{ item.place.worker.name }}, {{ item.edit.text }}: not saved yet</span>
                  </td>
                </tr>
              </template>
              <template #bill="{ row }"
                ><input
                  type="checkbox"
                  class="box"
                  :checked="row.billable"
                  :disabled="!!row.locked"
                  :aria-label="`${row.worker.name}, ${day(row.date)}, billable`"
                  @change="acts.change(row, { billable: ($event.target as HTMLInputElement).checked })"
              /></template>
              <template v-for="part in typedParts" :key="part" #[part]="{ row }"
                ><input
                  :data-part="part"
                  class="in-row"
                  :class="{ note: part === 'note' }"
                  :maxlength="part === 'note' ? 500 : undefined"
                  :value="shown(row, part)"
                  :readonly="!!row.locked"
                  :title="row.locked"
                  :aria-label="`${row.worker.name}, ${day(row.date)}, ${part}`"
                  autocomplete="off"
                  @input="typeInto(row, part, $event)"
                  @change="take(row, part)"
                  @keydown.enter.prevent="move($event, 1)"
                  @keydown.down.prevent="move($event, 1)"
                  @keydown.up.prevent="move($event, -1)"
                  @keydown.esc="drafts.delete(draftKey(row, part))"
              /></template>
              <template #cost="{ row }"
                ><Amount v-if="row.cost" :of="row.cost" /><span v-else class="warnword">no wage</span></template
              >
              <template #charge="{ row }"
                ><span v-if="row.costOnly" class="soft">cost only</span
                ><Amount v-else-if="row.charge" :of="row.charge" /><span v-else class="warnword"
                  >no rate</span
                ></template
              >
              <template #trail="{ row }"><Trail :trail="row.trail" kind="time_entry" :ids="[row.id]" /></template>
              <template #under="{ row }"><WrongCell :item="wrongOf(row)!" :day="day(row.date)" /></template>
              <template #empty>No hours in this time. Type the first above, or choose another time.</template>
              <template #key
                ><p v-if="list.count > (list.entries?.length ?? 0)" class="key">
                  {{ counted(list.count, 'entry') }}, the newest {{ list.entries?.length }} are shown.
                </p></template
              >
            </Ledger>
          </div>
          <div class="key"><TrailKey /></div>
        </Await>
      </section>
    </div>
  </div>
</template>

<style scoped>
.one {
  grid-template-columns: minmax(0, 1fr);
}
.in-row {
  width: calc(100% + 0.75rem);
  margin: 0 -6px;
  height: 1.9375rem;
  border: 0;
  background: none;
  text-align: right;
  padding: 0 6px;
  outline-offset: -2px;
}
.in-row.note {
  text-align: left;
}
.listing :deep(.locked > td) {
  background: var(--paper-back);
}
.listing :deep(.locked input) {
  color: var(--ink-soft);
  cursor: default;
}
.listing :deep(.waits input) {
  font-style: italic;
}
</style>

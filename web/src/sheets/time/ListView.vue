<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { answered, client } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Trail from '@/parts/Trail.vue'
import TrailKey from '@/parts/TrailKey.vue'
import { counted, day, figure, hours } from '@/parts/figures'
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
const { data, error, isLoading } = useQuery({
  queryKey: ['time-list', query],
  queryFn: () => answered(client.GET('/api/time/entries', { params: { query: query.value } })),
})
const acts = entryActs(() => ({ crew: crew.value, job: scope.job.value }))
const said = ref('')
const body = ref<HTMLElement>()
const columns = computed(() => (money.value ? 13 : 11))
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
      footing.show(`${scope.jobName.value}, ${scope.short.value}`, [
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
  const row = Number(field.closest('tr')?.dataset.row)
  const next = body.value?.querySelector<HTMLInputElement>(
    `[data-row="${row + by}"] [data-part="${field.dataset.part}"]`,
  )
  if (next) {
    next.focus()
    next.select()
  } else field.blur()
}
</script>

<template>
  <div class="sheet">
    <TimeHead view="list" :crews="data?.crews ?? []">
      <template #acts
        ><span v-if="said" class="told" role="status">{{ said }}</span></template
      >
    </TimeHead>
    <div class="split one">
      <section>
        <p v-if="error && !data" class="said empty" role="alert">{{ error.message }}</p>
        <p v-else-if="isLoading" class="empty soft" role="status">Opening the list…</p>
        <FirstHours v-else-if="nothing" />
        <template v-else-if="data && choices">
          <div class="scroll">
            <table class="ledger list" aria-label="Entries">
              <colgroup>
                <col style="width: 102px" />
                <col style="width: 12%" />
                <col />
                <col style="width: 34px" />
                <col v-for="(w, i) in [56, 56, 48, 58, 42]" :key="i" :style="{ width: `${w}px` }" />
                <template v-if="money"
                  ><col style="width: 78px" />
                  <col style="width: 80px"
                /></template>
                <col style="width: 14%" />
                <col style="width: 48px" />
              </colgroup>
              <thead>
                <tr>
                  <th scope="col">Date</th>
                  <th scope="col">Worker</th>
                  <th scope="col">Job, phase, code</th>
                  <th scope="col" class="mk">Bill</th>
                  <th scope="col" class="num">Start</th>
                  <th scope="col" class="num">Finish</th>
                  <th scope="col" class="num">Break</th>
                  <th scope="col" class="num">Hours</th>
                  <th scope="col" class="num">Over</th>
                  <template v-if="money"
                    ><th scope="col" class="num money">Cost</th>
                    <th scope="col" class="num">Charge</th></template
                  >
                  <th scope="col">Note</th>
                  <th scope="col" class="mk">Trail</th>
                </tr>
              </thead>
              <tbody ref="body">
                <AddLine
                  :members="data.members ?? []"
                  :choices="choices"
                  :job="scope.job.value"
                  :columns="columns"
                  :day="scope.to.value && scope.to.value < scope.today.value ? scope.to.value : scope.today.value"
                  @add="acts.add"
                />
                <tr v-for="item in fresh" :key="item.id">
                  <td class="error-line" :colspan="columns">
                    <WrongCell
                      v-if="item.said"
                      :item="item"
                      :day="`${item.place.worker.name}, ${day(item.edit.date)}, ${item.edit.text}`"
                    />
                    <span v-else class="soft">{{ item.place.worker.name }}, {{ item.edit.text }}: not saved yet</span>
                  </td>
                </tr>
                <template v-for="(row, i) in data.entries" :key="row.id">
                  <tr :data-row="i" :class="{ locked: row.locked, waits: wrongOf(row) && !wrongOf(row)?.said }">
                    <td>{{ day(row.date) }}</td>
                    <td class="strong">{{ row.worker.name }}</td>
                    <td>
                      <span class="two"
                        ><span>{{ row.job.code }} {{ row.job.name }}</span
                        ><small
                          >{{ place(row) || 'no code'
                          }}<b v-if="row.payClass !== 'auto' || row.ownRate">
                            · {{ row.payClass === 'auto' ? '' : row.payClass }} {{ row.ownRate ? 'own rate' : '' }}</b
                          ></small
                        ></span
                      >
                    </td>
                    <td class="mk">
                      <input
                        type="checkbox"
                        class="box"
                        :checked="row.billable"
                        :disabled="!!row.locked"
                        :aria-label="`${row.worker.name}, ${day(row.date)}, billable`"
                        @change="acts.change(row, { billable: ($event.target as HTMLInputElement).checked })"
                      />
                    </td>
                    <td v-for="part in ['start', 'finish', 'break', 'hours'] as const" :key="part" class="type">
                      <input
                        :data-part="part"
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
                      />
                    </td>
                    <td class="num">{{ figure(row.overtime) }}</td>
                    <template v-if="money">
                      <td class="num money">
                        <Amount v-if="row.cost" :of="row.cost" /><span v-else class="warnword">no wage</span>
                      </td>
                      <td class="num">
                        <span v-if="row.costOnly" class="soft">cost only</span>
                        <Amount v-else-if="row.charge" :of="row.charge" /><span v-else class="warnword">no rate</span>
                      </td>
                    </template>
                    <td class="type">
                      <input
                        data-part="note"
                        class="note"
                        maxlength="500"
                        :value="shown(row, 'note')"
                        :readonly="!!row.locked"
                        :aria-label="`${row.worker.name}, ${day(row.date)}, note`"
                        @input="typeInto(row, 'note', $event)"
                        @change="take(row, 'note')"
                        @keydown.esc="drafts.delete(draftKey(row, 'note'))"
                        @keydown.enter.prevent="move($event, 1)"
                      />
                    </td>
                    <td class="mk"><Trail :trail="row.trail" kind="time_entry" :ids="[row.id]" /></td>
                  </tr>
                  <tr v-if="wrongOf(row)?.said">
                    <td class="error-line" :colspan="columns">
                      <WrongCell :item="wrongOf(row)!" :day="day(row.date)" />
                    </td>
                  </tr>
                </template>
                <tr v-if="!data.entries?.length">
                  <td :colspan="columns" class="soft">
                    No hours in this time. Type the first above, or choose another time.
                  </td>
                </tr>
              </tbody>
              <tfoot>
                <tr>
                  <th scope="row" colspan="7">
                    {{ counted(data.count, 'entry')
                    }}<span v-if="data.count > (data.entries?.length ?? 0)" class="soft">
                      , the newest {{ data.entries?.length }} shown</span
                    >
                  </th>
                  <td class="num">{{ hours(data.hours) }}</td>
                  <td :colspan="columns - 8"></td>
                </tr>
              </tfoot>
            </table>
          </div>
          <div class="ruled"></div>
          <div class="key"><TrailKey /></div>
        </template>
      </section>
    </div>
  </div>
</template>

<style scoped>
.one {
  grid-template-columns: minmax(0, 1fr);
}
.type.type {
  padding: 0;
  border-left: 1px solid var(--rule-faint);
}
.type input {
  width: 100%;
  height: 31px;
  border: 0;
  background: none;
  text-align: right;
  padding: 0 8px;
  outline-offset: -2px;
}
.type .note {
  text-align: left;
}
.locked > td {
  background: var(--paper-back);
}
.locked input {
  color: var(--ink-soft);
  cursor: default;
}
.waits input {
  font-style: italic;
}
</style>

<script setup lang="ts" generic="R">
import { mdiTableColumn } from '@mdi/js'
import { computed, nextTick, onMounted, provide, ref, toRef, watch } from 'vue'
import { counted, isNegative } from './figures'
import { useHelp, type Key } from '@/book/help'
import { going } from '@/book/keys'
import { useDrawn } from './drawn'
import Icon from './Icon.vue'
import { exportsOf, inRows, onTheRight, shown, sized, useLedger, written, type Column } from './ledger'

/**
 * The ruled table: sorted by its heads, filtered, with the columns that a person chose, sums of what is seen, arrow keys
 * from row to row, and no more rows drawn than are in sight.
 */
const props = defineProps<{
  name: string
  label: string
  columns: Column<R>[]
  rows: R[]
  rowKey: (row: R) => string | number
  /** What the rows are, for the count of them: "customer". */
  of: string
  groupBy?: (row: R) => string
  /** What its rows are narrowed to, where one comes to find something in it. */
  find?: string
  /** Rows are opened by Enter and a click. */
  opens?: boolean
  opened?: string | number
  chosen?: (string | number)[]
  chooses?: boolean
  rowClass?: (row: R) => string
  /** What a row is called, to those who can't see it. */
  rowName?: (row: R) => string
  bare?: boolean
  /** It is as high as its rows, among others on a page. */
  flat?: boolean
  /** Its heads are for those who can't see it: a list of few columns on a page. */
  headless?: boolean
  /** Whether a row has something under it, such as why it was refused. */
  under?: (row: R) => boolean
  /** Sums of all rows as the book has them, where the rows are not all of them. */
  sums?: Record<string, string | undefined>
}>()
const emit = defineEmits<{
  open: [row: R]
  'update:chosen': [keys: (string | number)[]]
  seen: [rows: R[]]
  key: [event: KeyboardEvent, row: R]
  at: [row: R]
}>()
const ledger = useLedger<R>(props.name, toRef(props, 'columns'), toRef(props, 'rows') as never, toRef(props, 'groupBy'))
const { filter, seen, visible, canHide, hidden, totals, hasTotals, groups, widths, least } = ledger
watch(seen, (rows) => emit('seen', rows), { immediate: true })
watch(
  () => props.find,
  (find) => (filter.value = find ?? ''),
  { immediate: true },
)

const scroller = ref<HTMLElement>()
const table = ref<HTMLTableElement>()
onMounted(() => exportsOf(table.value!, ledger.exported))

type Line = { key: string | number; title?: string; totals?: Record<string, string>; row?: R }
const lines = computed<Line[]>(() =>
  // A group has the key of its title: where another one goes, its rows are not moved, and keep the focus.
  groups.value.flatMap((g) => [
    ...(props.groupBy ? [{ key: `group ${g.title}`, title: g.title, totals: g.totals }] : []),
    ...g.rows.map((row) => ({ key: props.rowKey(row), row })),
  ]),
)
/** Where a row stands among all, also where only some are drawn; the heads are the first. */
const places = computed(() => new Map(lines.value.map((l, i) => [l.key, i + 2])))
const inHand = ref<string | number>()
const drawn = useDrawn(
  scroller,
  () => lines.value.length,
  32,
  () => lines.value.findIndex((l) => l.key === (props.opened ?? inHand.value)),
)
const drawnLines = computed(() => drawn.rows.value.map(({ index, gap }) => ({ line: lines.value[index]!, gap })))

provide(inRows, props.opens || props.chooses)
const acts = computed(() => props.opens || props.chooses)
useHelp(props.label, [
  ...(props.opens || props.chooses
    ? ([
        ['↑ ↓', 'next row'],
        ['→ ←', 'into the row, and back'],
      ] as Key[])
    : []),
  ...(props.opens ? ([['Enter', 'open the row']] as Key[]) : []),
  ...(props.chooses ? ([['x', 'choose the row']] as Key[]) : []),
])
/** The title of a group goes over all columns up to the first that has a sum or acts in it. */
const titleSpan = computed(() => {
  const first = visible.value.findIndex((c, i) => i > 0 && (c.acts || c.total))
  return first < 0 ? visible.value.length : first
})
const columnsDrawn = computed(() => visible.value.length + (props.chooses ? 1 : 0))
const first = computed(() => lines.value.find((l) => l.row)?.key)
const tabStop = computed(() => (lines.value.some((l) => l.key === inHand.value) ? inHand.value : first.value))
async function goTo(key: string | number) {
  inHand.value = key
  drawn.reveal(lines.value.findIndex((l) => l.key === key))
  await nextTick()
  table.value?.querySelector<HTMLElement>(`tr[data-row="${CSS.escape(String(key))}"]`)?.focus()
}
/** What can be gone to in a row by the arrow keys. */
const within = (tr: HTMLElement) => [
  ...tr.querySelectorAll<HTMLElement>('a, button, input, select, [role=img][tabindex]'),
]
function across(event: KeyboardEvent) {
  const tr = event.currentTarget as HTMLElement
  const stops = [tr, ...within(tr)]
  const to = stops[stops.indexOf(event.target as HTMLElement) + (event.key === 'ArrowRight' ? 1 : -1)]
  const inField = event.target instanceof HTMLInputElement && event.target.type !== 'checkbox'
  if (!to || inField || event.altKey || event.ctrlKey || event.shiftKey) return
  event.preventDefault()
  to.focus()
}
function keyOn(event: KeyboardEvent, row: R) {
  if (acts.value && ['ArrowRight', 'ArrowLeft'].includes(event.key)) return across(event)
  if (event.target !== event.currentTarget || going.now) return // after `g` a letter names a tab
  const keys = lines.value.filter((l) => l.row).map((l) => l.key)
  const at = keys.indexOf(props.rowKey(row))
  const next = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: keys.length - 1 }[event.key]
  if (next !== undefined) {
    event.preventDefault()
    if (keys[next] !== undefined) void goTo(keys[next])
  } else if (event.key === 'Enter' && props.opens) {
    event.preventDefault()
    emit('open', row)
  } else if ((event.key === 'x' || event.key === ' ') && props.chooses) {
    event.preventDefault()
    choose(row)
  } else emit('key', event, row)
}
const isChosen = (row: R) => props.chosen?.includes(props.rowKey(row)) ?? false
function choose(row: R) {
  const key = props.rowKey(row)
  const had = props.chosen ?? []
  emit('update:chosen', had.includes(key) ? had.filter((k) => k !== key) : [...had, key])
}
const allChosen = computed(() => seen.value.length > 0 && seen.value.every(isChosen))
const chooseAll = () => emit('update:chosen', allChosen.value ? [] : seen.value.map(props.rowKey))
function clicked(event: MouseEvent, row: R) {
  if ((event.target as HTMLElement).closest('a, button, input, select, label')) return
  inHand.value = props.rowKey(row)
  if (props.opens) emit('open', row)
}
const tone = (c: Column<R>, row: R) => (typeof c.tone === 'function' ? c.tone(row) : (c.tone ?? ''))
const negative = (c: Column<R>, value: unknown) => onTheRight(c) && isNegative(String(value ?? ''))
const cellClass = (c: Column<R>) => ({ num: onTheRight(c), money: c.rule })
defineExpose({ goTo })
</script>

<template>
  <div class="ledger-part" :class="{ flat }">
    <div v-if="!bare" class="tools">
      <input v-model="filter" type="search" :aria-label="`Filter ${label}`" placeholder="filter" />
      <span class="soft" role="status">{{
        filter ? `${seen.length} of ${counted(rows.length, of)}` : counted(rows.length, of)
      }}</span>
      <slot name="tools" />
      <v-menu :close-on-content-click="false">
        <template #activator="{ props: menu }">
          <button v-bind="menu" class="columns" :aria-label="`Columns of ${label}`" title="Choose columns">
            <Icon :path="mdiTableColumn" :size="18" />
          </button>
        </template>
        <ul class="choices">
          <li v-for="c in canHide" :key="c.id">
            <label
              ><input type="checkbox" class="box" :checked="!hidden.includes(c.id)" @change="ledger.toggle(c.id)" />
              {{ c.label }}</label
            >
          </li>
        </ul>
      </v-menu>
    </div>
    <slot name="above" />
    <div ref="scroller" class="scroll" :class="{ footed: hasTotals }">
      <table
        ref="table"
        class="ledger"
        :style="`min-width: ${least / 16}rem`"
        :aria-label="label"
        :role="opens ? 'treegrid' : acts ? 'grid' : undefined"
        :aria-rowcount="lines.length + 1"
      >
        <colgroup>
          <col v-if="chooses" style="width: 2.375rem" />
          <col v-for="c in visible" :key="c.id" :style="sized(widths.get(c.id))" />
        </colgroup>
        <thead :class="{ sr: headless }">
          <tr>
            <th v-if="chooses" scope="col" class="mk">
              <input
                type="checkbox"
                class="box"
                :checked="allChosen"
                :aria-label="`Choose all ${label}`"
                @change="chooseAll"
              />
            </th>
            <th
              v-for="c in visible"
              :key="c.id"
              scope="col"
              :class="cellClass(c)"
              :title="c.title"
              :aria-sort="ledger.sortedBy(c.id)"
            >
              <span v-if="c.acts" class="sr">{{ c.label }}</span>
              <slot v-else-if="$slots[`head-${c.id}`]" :name="`head-${c.id}`" />
              <button v-else class="sorts" @click="ledger.sort(c.id)">
                {{ c.label
                }}<span v-if="ledger.sortedBy(c.id)" aria-hidden="true">{{
                  ledger.sortedBy(c.id) === 'ascending' ? ' ▴' : ' ▾'
                }}</span>
              </button>
            </th>
          </tr>
        </thead>
        <tbody>
          <slot name="first" :columns="columnsDrawn" />
          <template v-for="{ line, gap } in drawnLines" :key="line.key">
            <tr v-if="gap" aria-hidden="true">
              <td :colspan="columnsDrawn" :style="`height: ${gap}px`" class="gap"></td>
            </tr>
            <tr v-if="!line.row" class="group">
              <th v-if="chooses"></th>
              <th :colspan="titleSpan" scope="rowgroup">{{ line.title }}</th>
              <th v-for="c in visible.slice(titleSpan)" :key="c.id" :class="cellClass(c)">
                <slot v-if="c.acts" name="group-acts" :title="line.title ?? ''" />
                <template v-else>{{ written(c, line.totals?.[c.id]) }}</template>
              </th>
            </tr>
            <template v-else>
              <tr
                :data-row="line.key"
                :aria-rowindex="places.get(line.key)"
                :class="[rowClass?.(line.row), { chosen: isChosen(line.row), open: opened === line.key }]"
                :tabindex="acts ? (line.key === tabStop ? 0 : -1) : undefined"
                :aria-selected="chooses ? isChosen(line.row) : undefined"
                :aria-expanded="opens ? opened === line.key : undefined"
                :aria-label="acts ? rowName?.(line.row) : undefined"
                @keydown="keyOn($event, line.row)"
                @click="clicked($event, line.row)"
                @focus="((inHand = line.key), emit('at', line.row))"
              >
                <td v-if="chooses" class="mk">
                  <input
                    type="checkbox"
                    class="box"
                    tabindex="-1"
                    :checked="isChosen(line.row)"
                    :aria-label="`Choose ${rowName?.(line.row) ?? ''}`"
                    @change="choose(line.row)"
                  />
                </td>
                <td
                  v-for="c in visible"
                  :key="c.id"
                  :class="[cellClass(c), tone(c, line.row), { neg: negative(c, c.value(line.row)) }]"
                  :title="c.kind === undefined || c.kind === 'text' ? shown(c, line.row) : undefined"
                >
                  <slot :name="c.id" :row="line.row">
                    <span v-if="c.sub" class="two"
                      ><span>{{ shown(c, line.row) }}</span
                      ><small>{{ c.sub(line.row) }}</small></span
                    >
                    <template v-else>{{ shown(c, line.row) }}</template>
                  </slot>
                </td>
              </tr>
              <tr v-if="under?.(line.row)">
                <td class="error-line" :colspan="columnsDrawn"><slot name="under" :row="line.row" /></td>
              </tr>
              <tr v-if="opened === line.key && $slots.below" class="below">
                <td :colspan="columnsDrawn"><slot name="below" :row="line.row" /></td>
              </tr>
            </template>
          </template>
          <tr v-if="drawn.below.value" aria-hidden="true">
            <td :colspan="columnsDrawn" :style="`height: ${drawn.below.value}px`" class="gap"></td>
          </tr>
        </tbody>
        <tfoot v-if="hasTotals && rows.length">
          <tr>
            <td v-if="chooses"></td>
            <th v-for="(c, i) in visible" :key="c.id" :scope="i ? undefined : 'row'" :class="cellClass(c)">
              <slot :name="`total-${c.id}`"
                ><template v-if="i">{{ written(c, (!filter && sums?.[c.id]) || totals[c.id]) }}</template
                ><template v-else>{{ filter ? 'Total of what is shown' : 'Total' }}</template></slot
              >
            </th>
          </tr>
        </tfoot>
      </table>
      <p v-if="filter && !seen.length" class="empty soft">
        Nothing here matches “{{ filter }}”. <button class="lnk" @click="filter = ''">Show all</button>
      </p>
      <div v-else-if="!rows.length" class="empty soft"><slot name="empty" /></div>
      <slot name="key" />
    </div>
  </div>
</template>

<style scoped>
.ledger-part {
  display: flex;
  flex-direction: column;
  min-height: 0;
  min-width: 0;
  flex: 1;
}
.tools {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 4px 14px;
  min-height: 2.375rem;
  padding: 0 16px;
}
.tools > span {
  white-space: nowrap;
}
.tools > input {
  flex: 1 1 6rem;
  max-width: 11.25rem;
  min-width: 4.375rem;
  height: 1.625rem;
  border: 0;
  border-bottom: 1px solid var(--ink-soft);
  background: none;
}
.columns {
  width: 1.625rem;
  height: 1.625rem;
  display: grid;
  place-items: center;
  color: var(--ink-soft);
  margin-left: auto;
}
.choices {
  background: var(--paper);
  padding: 6px 0;
}
.choices label {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 4px 14px;
  cursor: pointer;
}
.scroll {
  flex: 1;
}
/* No row that is gone to lies under the totals. */
.footed {
  scroll-padding-bottom: 2.75rem;
}
.flat {
  flex: none;
}
.flat > .scroll {
  overflow: visible;
}
.sorts {
  max-width: 100%;
  min-height: 1.5rem;
  overflow: hidden;
  text-overflow: ellipsis;
  color: inherit;
  font: inherit;
}
.sorts:hover {
  color: var(--ink);
}
.ledger .num {
  overflow: visible;
  text-overflow: clip;
}
.ledger .gap {
  padding: 0;
  border: 0;
}
.ledger .below > td {
  height: auto;
  padding: 0;
  white-space: normal;
  background: var(--paper-back);
}
@media print {
  .tools {
    display: none;
  }
  .scroll {
    overflow: visible;
  }
}
</style>

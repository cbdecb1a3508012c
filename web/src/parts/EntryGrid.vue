<script setup lang="ts" generic="R">
import { computed, onMounted, provide, ref, toRef, watch } from 'vue'
import { useHelp } from '@/book/help'
import Amount from './Amount.vue'
import { copyBlock, pastedBlock } from './clipboard'
import { useDrawn } from './drawn'
import EntryRow, { columnClass } from './EntryRow'
import { gridKeys, inCell, useEntryGrid, type CellAt, type Edit, type GridColumn, type How } from './entryGrid'
import { figure } from './figures'
import { exportsOf, figureWidth, inRows, sized } from './ledger'

/**
 * The grid that is typed into: a cursor that stays with its row and column, marked blocks, fill, copy and paste, a line under a
 * row for what is wrong with it, and no more rows drawn than are in sight.
 */
const props = defineProps<{
  label: string
  columns: GridColumn<R>[]
  rows: R[]
  rowKey: (row: R) => string
  /** What stands in a cell, as it would be typed; and as it is copied to other programs, where that differs. */
  text: (row: R, column: string) => string
  copies?: (row: R, column: string) => string
  /** Whether a cell can be typed into. */
  opens?: (row: R, column: string) => boolean
  /** Takes a pasted block that is no block of cells; true where it took it. */
  takes?: (texts: string[][]) => boolean
  rowClass?: (row: R) => string | undefined
  /** Whether a row has something wrong that is said under it. */
  wrong?: (row: R) => boolean
  /** Whether more of the row under the cursor stands open below it. */
  more?: boolean
  /** Below this width, in pixels, the grid is moved sideways, so that no column is squeezed. */
  least?: number
}>()
const emit = defineEmits<{
  set: [edits: Edit<R>[], how: How]
  at: [row: R | undefined, column: string]
  /** Rows of a pasted block that found none here. */
  beyond: [rows: number]
}>()
defineSlots<{
  [column: `cell-${string}`]: ((of: { row: R }) => unknown) | undefined
  [column: `head-${string}`]: ((of: { column: GridColumn<R> }) => unknown) | undefined
  entry: (of: { row: R; column: string; cell: CellAt }) => unknown
  head?: (of: { column: GridColumn<R> }) => unknown
  wrong?: (of: { row: R }) => unknown
  more?: (of: { row: R; column: string; columns: number }) => unknown
  first?: (of: { columns: number }) => unknown
  last?: (of: { columns: number }) => unknown
  below?: () => unknown
}>()
useHelp(props.label, gridKeys)
provide(inRows, true)
const scroller = ref<HTMLElement>()
const body = ref<HTMLElement>()
const typedColumns = computed(() => props.columns.filter((c) => c.typed).map((c) => c.id))
const grid = useEntryGrid<R>(toRef(props, 'rows') as never, typedColumns, body, {
  key: (row) => props.rowKey(row),
  text: (row, column) => props.text(row, column),
  open: (row, column) => props.opens?.(row, column) ?? true,
  set: (edits, how) => emit('set', edits, how),
  reveal: (row) => drawn.reveal(row),
})
const { shown, cursor, here, column, typed, focused } = grid
const drawn = useDrawn(
  scroller,
  () => shown.value.length,
  33,
  () => cursor.value.row,
)
watch([here, column], () => emit('at', here.value, column.value), { immediate: true })

/** The rows that are drawn; the first after others that are not says all that it says. */
const drawnRows = computed(() =>
  drawn.rows.value.map(({ index, gap }, i) => ({
    index,
    gap,
    above: i === 0 || gap ? undefined : shown.value[index - 1],
  })),
)
/** What a row is told of the cursor and the marked block, as little as may be. */
function stateOf(row: number) {
  const { top, bottom, left, right } = grid.block.value
  const marked = grid.marked.value && row >= top && row <= bottom
  const here = cursor.value.row === row
  return {
    here: here ? cursor.value.col : -1,
    typed: here ? typed.value : undefined,
    from: marked ? left : -1,
    to: marked ? right : -1,
    chosen: here && focused.value,
  }
}
const widths = computed(() =>
  props.columns.map((c) => {
    if (c.kind !== 'figure') return c.width
    const longest = props.rows.reduce(
      (most, row) => Math.max(most, figure(c.value?.(row)).length),
      figure(c.sum).length,
    )
    return figureWidth(longest, c.label, c.width)
  }),
)
function input(event: Event) {
  if (inCell(event)) typed.value = (event.target as HTMLInputElement).value
}
function left(event: FocusEvent) {
  focused.value = false
  if ((event.target as HTMLElement).tagName === 'INPUT' && inCell(event)) grid.take()
}
function copy(event: ClipboardEvent) {
  if (typed.value !== undefined || !inCell(event)) return
  copyBlock(event, grid.copied(props.copies), grid.copied())
  if (event.type === 'cut') grid.clear()
}
function paste(event: ClipboardEvent) {
  if (typed.value !== undefined || !inCell(event)) return
  event.preventDefault()
  const texts = pastedBlock(event)
  if (props.takes?.(texts)) return
  const beyond = grid.paste(texts)
  if (beyond) emit('beyond', beyond)
}
/** What a spreadsheet is given: all columns and rows, figures as plain decimals, and the sums. */
function exported(): string[][] {
  const copied = props.copies ?? props.text
  const out = props.columns.filter((c) => c.typed || c.value)
  return [
    out.map((c) => c.label),
    ...shown.value.map((row) => out.map((c) => (c.typed ? copied(row, c.id) : (c.value!(row) ?? '')))),
    out.map((c) => c.sum ?? ''),
  ]
}
const table = ref<HTMLTableElement>()
onMounted(() => exportsOf(table.value!, exported))

/** Goes to a cell by its keys. */
function goTo(key: string, id = typedColumns.value[0]!) {
  const row = shown.value.findIndex((r) => props.rowKey(r) === key)
  if (row >= 0) grid.go({ row, col: Math.max(0, typedColumns.value.indexOf(id)) })
}
defineExpose({ goTo, focus: grid.focus })
</script>

<template>
  <div ref="scroller" class="scroll">
    <table
      ref="table"
      class="ledger"
      role="grid"
      :aria-label="label"
      aria-multiselectable="true"
      :aria-rowcount="rows.length"
      :style="least ? `min-width: ${least / 16}rem` : ''"
    >
      <colgroup>
        <col v-for="(w, i) in widths" :key="columns[i]!.id" :style="sized(w)" />
      </colgroup>
      <thead>
        <tr>
          <th v-for="c in columns" :key="c.id" scope="col" :class="[columnClass(c), c.head]">
            <slot :name="`head-${c.id}`" :column="c"
              ><slot v-if="c.typed" name="head" :column="c">{{ c.label }}</slot
              ><template v-else>{{ c.label }}</template></slot
            >
          </th>
        </tr>
      </thead>
      <tbody
        ref="body"
        @keydown="grid.key"
        @input="input"
        @focusin="focused = inCell($event)"
        @focusout="left"
        @mousedown="grid.point"
        @mouseover="grid.drag"
        @copy="copy"
        @cut="copy"
        @paste="paste"
      >
        <slot name="first" :columns="columns.length" />
        <template v-for="{ index: i, gap, above } in drawnRows" :key="rowKey(shown[i]!)">
          <tr v-if="gap" aria-hidden="true">
            <td :colspan="columns.length" class="gap" :style="`height: ${gap}px`"></td>
          </tr>
          <EntryRow
            :row="shown[i]"
            :above="above"
            :below="shown[i + 1]"
            :index="i"
            :columns="columns as never"
            :slots="$slots"
            :row-class="rowClass as never"
            v-bind="stateOf(i)"
          />
          <tr v-if="wrong?.(shown[i]!)">
            <td class="error-line" :colspan="columns.length"><slot name="wrong" :row="shown[i]!" /></td>
          </tr>
          <slot
            v-if="more && cursor.row === i"
            name="more"
            :row="shown[i]!"
            :column="column"
            :columns="columns.length"
          />
        </template>
        <tr v-if="drawn.below.value" aria-hidden="true">
          <td :colspan="columns.length" class="gap" :style="`height: ${drawn.below.value}px`"></td>
        </tr>
        <slot name="last" :columns="columns.length" />
      </tbody>
      <tfoot>
        <tr>
          <component
            :is="i ? 'td' : 'th'"
            v-for="(c, i) in columns"
            :key="c.id"
            :scope="i ? undefined : 'row'"
            :data-column="c.id"
            :class="[columnClass(c), c.head]"
          >
            <Amount v-if="c.typed || c.kind === 'figure'" :of="c.sum" /><template v-else>{{ c.sum }}</template>
          </component>
        </tr>
      </tfoot>
    </table>
    <slot name="below" />
  </div>
</template>

<style scoped>
.ledger :deep(td.goes-on) {
  border-bottom-color: transparent;
}
.ledger :deep(tr.chosen > :is(td.goes-on, td.again)) {
  background: none;
}
.ledger .gap {
  padding: 0;
  border: 0;
}
@media print {
  .scroll {
    overflow: visible;
  }
}
</style>

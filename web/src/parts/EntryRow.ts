import { defineComponent, h, type Slots } from 'vue'
import Amount from './Amount.vue'
import type { CellAt, GridColumn } from './entryGrid'

/** The class names of a column's cells, head and sum. */
export const columnClass = (c: Pick<GridColumn<never>, 'typed' | 'kind' | 'rule'>) => ({
  num: c.typed || c.kind === 'figure',
  mk: c.kind === 'mark',
  money: c.rule,
})

interface Props {
  row: unknown
  /** The rows before and after it, where those are drawn: a column may say the same once for all of them. */
  above?: unknown
  below?: unknown
  index: number
  columns: GridColumn<unknown>[]
  slots: Slots
  rowClass?: (row: unknown) => string | undefined
  /** The column of the cursor, and the first and last that are marked; -1 for none. */
  here: number
  from: number
  to: number
  typed?: string
  chosen: boolean
}

/**
 * A row of an EntryGrid. It is drawn again only where something of its own changes, so that a key echoes at once in a sheet of
 * hundreds of lines.
 */
export default defineComponent(
  (props: Props) => {
    const cellAt = (at: number): CellAt => ({
      at,
      here: at === props.here,
      marked: at >= props.from && at <= props.to,
      typed: at === props.here ? props.typed : undefined,
    })
    const shown = (c: GridColumn<unknown>) =>
      props.slots[`cell-${c.id}`]?.({ row: props.row }) ??
      (c.kind === 'figure' ? h(Amount, { of: c.value?.(props.row) }) : c.value?.(props.row))
    function still(c: GridColumn<unknown>) {
      const again = props.above !== undefined && c.same?.(props.above, props.row)
      const goesOn = props.below !== undefined && c.same?.(props.row, props.below)
      const names = [columnClass(c), c.tone?.(props.row), { again, 'goes-on': goesOn }]
      return h('td', { key: c.id, class: names }, again ? h('span', { class: 'sr' }, c.value?.(props.row)) : [shown(c)])
    }
    return () => {
      let at = 0
      const cells = props.columns.map((c) =>
        c.typed ? props.slots.entry?.({ row: props.row, column: c.id, cell: cellAt(at++) }) : still(c),
      )
      const names = [props.rowClass?.(props.row), { chosen: props.chosen }]
      return h('tr', { 'data-line': props.index, 'aria-rowindex': props.index + 2, class: names }, cells)
    }
  },
  {
    props: ['row', 'above', 'below', 'index', 'columns', 'slots', 'rowClass', 'here', 'from', 'to', 'typed', 'chosen'],
  },
)

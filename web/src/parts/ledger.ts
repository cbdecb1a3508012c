import { useLocalStorage, useWindowSize } from '@vueuse/core'
import {
  getCoreRowModel,
  getFilteredRowModel,
  getSortedRowModel,
  useVueTable,
  type ColumnDef,
  type SortingState,
} from '@tanstack/vue-table'
import { computed, ref, type InjectionKey, type Ref } from 'vue'
import { useSession } from '@/book/session'
import { figure, hours, longDay, percent, sumOf } from './figures'

export type Kind = 'text' | 'money' | 'hours' | 'percent' | 'number' | 'date'

/** A column of a ledger, as data: what is shown, sorted, filtered, added up, exported and printed is all from here. */
export interface Column<R> {
  id: string
  label: string
  kind?: Kind
  /** In px at the usual size of type; a column of text without one takes what is left. */
  width?: number
  /** A decimal, a date "2026-11-18", a text or a count. */
  value: (row: R) => string | number | undefined | null
  /** What is shown, where it is not the value in the person's way of writing. */
  text?: (row: R) => string
  /** What it belongs to, smaller under it. */
  sub?: (row: R) => string | undefined
  tone?: 'soft' | 'strong' | ((row: R) => 'soft' | 'strong' | 'warnword' | '')
  /** It is added up in the last row. */
  total?: boolean
  /** It is not shown in a window narrower than this, in px. */
  hideBelow?: number
  /** Money begins here: a double rule before it. */
  rule?: boolean
  title?: string
  /** It holds what one does with a row: not sorted, exported or hidden. */
  acts?: boolean
}

const isFigure = (kind: Kind = 'text') => kind !== 'text' && kind !== 'date'
export const onTheRight = <R>(c: Column<R>) => isFigure(c.kind)

/** A value as people read it. */
export function shown<R>(column: Column<R>, row: R): string {
  if (column.text) return column.text(row)
  return written(column, column.value(row))
}

export function written<R>(column: Column<R>, value: string | number | undefined | null): string {
  if (value === undefined || value === null || value === '') return ''
  const text = String(value)
  switch (column.kind) {
    case 'money':
    case 'number':
      return figure(text)
    case 'hours':
      return hours(text)
    case 'percent':
      return percent(text)
    case 'date':
      return longDay(text)
    default:
      return text
  }
}

const words = (text: string) => text.toLowerCase().split(/\s+/).filter(Boolean)

function compare<R>(column: Column<R>, a: R, b: R): number {
  const [x, y] = [column.value(a), column.value(b)]
  const [none, nothing] = [x === undefined || x === null || x === '', y === undefined || y === null || y === '']
  if (none || nothing) return Number(none) - Number(nothing)
  if (isFigure(column.kind)) return Number(x) - Number(y)
  return String(x).localeCompare(String(y), undefined, { numeric: true, sensitivity: 'base' })
}

/** Rows by a word, in the order in which the words come up. */
export function grouped<R>(rows: R[], of: (row: R) => string): Map<string, R[]> {
  const found = new Map<string, R[]>()
  for (const row of rows) {
    const word = of(row)
    const others = found.get(word)
    if (others) others.push(row)
    else found.set(word, [row])
  }
  return found
}

/** Rows of a group, with its sums. */
export interface Group<R> {
  title: string
  rows: R[]
  totals: Record<string, string>
}

/** A size in px at the usual size of type, as one that follows the size that a person chose for the browser. */
export const sized = (px?: number) => (px ? `width: ${px / 16}rem` : '')

/** How wide a column of figures is, in px at the usual size of type, so that none is ever cut: about 8 px a character, and the padding. */
export const figureWidth = (longest: number, label: string, least = 0) =>
  Math.max(least, Math.ceil(longest * 7.6) + 18, Math.ceil(label.length * 6.6) + 26)

/** What a column of text without a width of its own has at least, in px at the usual size of type. */
const leastText = 110

/** The widest that a figure of a column is. */
function widthOf<R>(column: Column<R>, rows: R[], totals: Record<string, string>): number | undefined {
  if (!isFigure(column.kind)) return column.width
  const longest = rows.reduce(
    (most, row) => Math.max(most, shown(column, row).length),
    written(column, totals[column.id]).length,
  )
  return figureWidth(longest, column.label, column.width)
}

/** Sorting, filtering, the choice of columns (kept for each person), groups and sums of what is seen. */
export function useLedger<R>(
  name: string,
  columns: Ref<Column<R>[]>,
  rows: Ref<R[]>,
  groupBy: Ref<((row: R) => string) | undefined>,
) {
  const session = useSession()
  const filter = ref('')
  const sorting = ref<SortingState>([])
  const hidden = useLocalStorage<string[]>(`jarvo-columns-${session.who?.name ?? ''}-${name}`, [])
  const { width } = useWindowSize()

  const definitions = computed<ColumnDef<R>[]>(() =>
    columns.value.map((c) => ({
      id: c.id,
      accessorFn: (row) => c.value(row),
      enableSorting: !c.acts,
      sortingFn: (a, b) => compare(c, a.original, b.original),
    })),
  )
  const table = useVueTable<R>({
    get data() {
      return rows.value
    },
    get columns() {
      return definitions.value
    },
    state: {
      get sorting() {
        return sorting.value
      },
      get globalFilter() {
        return filter.value
      },
    },
    sortDescFirst: false,
    onSortingChange: (to) => (sorting.value = typeof to === 'function' ? to(sorting.value) : to),
    globalFilterFn: (row, _, typed: string) => {
      const text = columns.value
        .map((c) => `${shown(c, row.original)} ${c.sub?.(row.original) ?? ''}`)
        .join(' ')
        .toLowerCase()
      return words(typed).every((w) => text.includes(w))
    },
    getColumnCanGlobalFilter: () => true,
    getCoreRowModel: getCoreRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
    getSortedRowModel: getSortedRowModel(),
  })

  const seen = computed(() => table.getRowModel().rows.map((r) => r.original))
  const canHide = computed(() => columns.value.filter((c, i) => i > 0 && !c.acts))
  const visible = computed(() =>
    columns.value.filter((c) => !hidden.value.includes(c.id) && !(c.hideBelow && width.value < c.hideBelow)),
  )
  const added = (of: R[]) =>
    Object.fromEntries(
      columns.value.filter((c) => c.total).map((c) => [c.id, sumOf(of.map((row) => String(c.value(row) ?? '')))]),
    )
  const totals = computed(() => added(seen.value))
  const hasTotals = computed(() => columns.value.some((c) => c.total))
  const groups = computed<Group<R>[]>(() => {
    const of = groupBy.value
    if (!of) return [{ title: '', rows: seen.value, totals: {} }]
    return [...grouped(seen.value, of)].map(([title, rows]) => ({ title, rows, totals: added(rows) }))
  })
  const widths = computed(() => new Map(visible.value.map((c) => [c.id, widthOf(c, rows.value, totals.value)])))
  /** Narrower than this it is moved sideways, in px: a column that takes what is left is never squeezed to nothing. */
  const least = computed(() => [...widths.value.values()].reduce((sum: number, w) => sum + (w ?? leastText), 0))

  /** What a spreadsheet is given: the columns and rows that are seen, figures as plain decimals, and the totals. */
  function exported(): string[][] {
    const out = visible.value.filter((c) => !c.acts)
    const cell = (c: Column<R>, row: R) => {
      const text = isFigure(c.kind) || (c.kind === 'date' && !c.text) ? String(c.value(row) ?? '') : shown(c, row)
      return [text, c.sub?.(row)].filter(Boolean).join(', ')
    }
    const body = groups.value.flatMap((g) => [
      ...(g.title ? [[g.title]] : []),
      ...g.rows.map((row) => out.map((c) => cell(c, row))),
    ])
    const foot = hasTotals.value ? [out.map((c, i) => (i ? (totals.value[c.id] ?? '') : 'Total'))] : []
    return [out.map((c) => c.label), ...body, ...foot]
  }

  const sortedBy = (id: string) => {
    const by = sorting.value.find((s) => s.id === id)
    return by ? (by.desc ? ('descending' as const) : ('ascending' as const)) : undefined
  }
  const sort = (id: string) => table.getColumn(id)?.toggleSorting()
  const toggle = (id: string) =>
    (hidden.value = hidden.value.includes(id) ? hidden.value.filter((h) => h !== id) : [...hidden.value, id])

  return {
    filter,
    seen,
    visible,
    canHide,
    hidden,
    toggle,
    totals,
    hasTotals,
    groups,
    widths,
    least,
    sort,
    sortedBy,
    exported,
  }
}

/** What stands in a row of many is no stop of the Tab key: rows are gone through by the arrows, and into one by →. */
export const inRows = Symbol('in rows') as InjectionKey<boolean>

const exports = new WeakMap<Element, () => string[][]>()

/** Tells the export what a table holds: more than is seen of a long one. */
export const exportsOf = (table: Element, rows: () => string[][]) => void exports.set(table, rows)
export const exportedRows = (table: Element) => exports.get(table)?.()

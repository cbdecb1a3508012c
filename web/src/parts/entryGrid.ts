import { computed, nextTick, ref, watch, type Ref } from 'vue'

/** A column of an EntryGrid: what is shown, added up and exported is from here. */
export interface GridColumn<R> {
  id: string
  label: string
  /** Its cells are typed into: the cursor goes over them. */
  typed?: boolean
  /** In px at the usual size of type; what is left where absent. One of figures grows to the widest of them. */
  width?: number
  kind?: 'text' | 'figure' | 'mark'
  /** A text, or a decimal where it is of figures. What stands in a typed cell has the grid's text. */
  value?: (row: R) => string | undefined
  /** What the last row says under it: a text, or a decimal where it is of figures or typed. */
  sum?: string
  /** A double rule stands before it. */
  rule?: boolean
  tone?: (row: R) => string | undefined
  /** Class name of its head. */
  head?: string
  /** Whether a row shows the same as the one above it, which is then not shown again. */
  same?: (above: R, row: R) => boolean
}

/** What a cell is told by its grid. */
export interface CellAt {
  at: number
  here: boolean
  marked: boolean
  /** What is being typed into it. */
  typed?: string
}

/** Where a cell is: its row and its column, by number. */
export interface Spot {
  row: number
  col: number
}
export interface Block {
  top: number
  left: number
  bottom: number
  right: number
}
/** A text that a cell shall have. */
export interface Edit<R> {
  row: R
  column: string
  text: string
}
/** How texts came to be in cells. */
export type How = 'typed' | 'emptied' | 'filled down' | 'filled across' | 'pasted'

/** What holds a grid of cells: where its texts are from, and what becomes of them. */
export interface GridHolder<R> {
  key: (row: R) => string
  /** What stands in a cell, as it would be typed. */
  text: (row: R, column: string) => string
  /** Whether a cell can be typed into; what says why not is shown by whoever holds the grid. */
  open: (row: R, column: string) => boolean
  set: (edits: Edit<R>[], how: How) => void
  /** Brings a row into sight, where not all are drawn. */
  reveal?: (row: number) => void
}

/** What the keys of a grid do. */
export const gridKeys: [string, string][] = [
  ['↑ ↓ ← →', 'next cell; typing writes over it'],
  ['Enter  Tab', 'done with this cell, on down or across'],
  ['Home  End', 'first or last cell of the row; with Ctrl, of all'],
  ['F2', 'change what is there'],
  ['Del', 'empty it'],
  ['Alt ↓  →', 'fill down, fill across'],
  ['Shift ↑  →', 'mark a block'],
  ['Ctrl C  X  V', 'copy, cut, paste a block'],
]

/** Whether an event comes from a cell of a grid, and not from a field among its rows. */
export const inCell = (event: Event) => !!(event.target as HTMLElement).closest('td[data-day]')

/** Fingers have no keys to begin typing with: a touch opens the cell. */
const touched = () => window.matchMedia('(pointer: coarse)').matches

/**
 * The cursor, the marked block and the typing of a grid of cells, by keyboard and mouse. The cursor is on a row and a column by
 * their keys: where rows come or go above, it stays with its own.
 */
export function useEntryGrid<R>(
  rows: Ref<R[]>,
  columns: Ref<string[]>,
  body: Ref<HTMLElement | undefined>,
  holder: GridHolder<R>,
) {
  /** A spot by its keys, and where it stood last: there it stays where its row is gone. */
  interface Held extends Spot {
    on: string
    in: string
  }
  /** While something is typed the rows stay where they are; what others add comes after them. */
  const order = ref<string[]>()
  const shown = computed<R[]>(() => {
    if (!order.value) return rows.value
    const rank = new Map(order.value.map((key, i) => [key, i]))
    const at = (row: R) => rank.get(holder.key(row)) ?? rank.size
    return [...rows.value].sort((a, b) => at(a) - at(b))
  })
  const places = computed(() => new Map(shown.value.map((row, i) => [holder.key(row), i])))
  const bound = (at: Spot): Spot => ({
    row: Math.max(0, Math.min(shown.value.length - 1, at.row)),
    col: Math.max(0, Math.min(columns.value.length - 1, at.col)),
  })
  function hold(at: Spot): Held {
    const spot = bound(at)
    const row = shown.value[spot.row]
    return { ...spot, on: row ? holder.key(row) : '', in: columns.value[spot.col] ?? '' }
  }
  function spotOf(held: Held): Spot {
    const col = columns.value.indexOf(held.in)
    return bound({ row: places.value.get(held.on) ?? held.row, col: col < 0 ? held.col : col })
  }
  const held = ref(hold({ row: 0, col: 0 }))
  const heldAnchor = ref<Held>()
  const cursor = computed(() => spotOf(held.value))
  const anchor = computed(() => heldAnchor.value && spotOf(heldAnchor.value))
  /** What is typed into the cell under the cursor; F2 lets the arrows move inside the text. */
  const typed = ref<string>()
  const inside = ref(false)
  const focused = ref(false)

  const block = computed<Block>(() => {
    const [a, b] = [anchor.value ?? cursor.value, cursor.value]
    return {
      top: Math.min(a.row, b.row),
      left: Math.min(a.col, b.col),
      bottom: Math.max(a.row, b.row),
      right: Math.max(a.col, b.col),
    }
  })
  const marked = computed(() => block.value.top !== block.value.bottom || block.value.left !== block.value.right)
  const isMarked = (row: number, col: number) => {
    const b = block.value
    return marked.value && row >= b.top && row <= b.bottom && col >= b.left && col <= b.right
  }
  const cellAt = (at: Spot) =>
    body.value?.querySelector<HTMLElement>(`[data-line="${at.row}"] td[data-day="${at.col}"]`)

  function focus() {
    holder.reveal?.(cursor.value.row)
    void nextTick(() => {
      const cell = cellAt(cursor.value)
      const field = cell?.querySelector('input')
      if (field) field.focus()
      else cell?.focus()
    })
  }
  function go(at: Spot, extend = false) {
    heldAnchor.value = extend ? (heldAnchor.value ?? held.value) : undefined
    held.value = hold(at)
    focus()
  }
  const here = computed<R | undefined>(() => shown.value[cursor.value.row])
  const column = computed(() => columns.value[cursor.value.col]!)
  /** The row that is typed into, wherever it stands when the text is taken. */
  let onto: R | undefined
  function begin(text: string, within: boolean) {
    if (here.value === undefined || !holder.open(here.value, column.value)) return
    onto = here.value
    order.value = shown.value.map(holder.key)
    typed.value = text
    inside.value = within
    focus()
  }
  function take() {
    const text = typed.value
    if (text === undefined) return
    leaveOpen()
    const key = holder.key(onto!)
    const row = rows.value.find((r) => holder.key(r) === key) ?? onto!
    holder.set([{ row, column: held.value.in, text: text.trim() }], 'typed')
  }
  function leaveOpen() {
    typed.value = undefined
    order.value = undefined
  }
  function leave() {
    leaveOpen()
    focus()
  }

  /** The texts for the cells of a block. */
  function edits(area: Block, text: (row: number, col: number) => string): Edit<R>[] {
    const made: Edit<R>[] = []
    for (let row = area.top; row <= area.bottom; row++)
      for (let col = area.left; col <= area.right; col++)
        made.push({ row: shown.value[row]!, column: columns.value[col]!, text: text(row, col) })
    return made
  }
  const textAt = (row: number, col: number) => holder.text(shown.value[row]!, columns.value[col]!)
  const clear = () =>
    holder.set(
      edits(block.value, () => ''),
      'emptied',
    )
  /** Copies the first row or column of the marked block over the rest of it; of one cell, what stands before it. */
  function fill(along: 'down' | 'across') {
    const b = { ...block.value }
    if (along === 'down' && b.top === b.bottom) b.top = Math.max(0, b.top - 1)
    if (along === 'across' && b.left === b.right) b.left = Math.max(0, b.left - 1)
    const from = (row: number, col: number) => (along === 'down' ? textAt(b.top, col) : textAt(row, b.left))
    holder.set(edits(b, from), `filled ${along}`)
  }
  /** Puts a copied block down from a cell on, one value into all of a marked block; how many rows of it found none here. */
  function paste(texts: string[][]): number {
    const one = texts.length === 1 && texts[0]!.length === 1
    const area = { ...block.value }
    if (!one) area.bottom = area.top + texts.length - 1
    if (!one) area.right = area.left + Math.max(0, ...texts.map((r) => r.length)) - 1
    const beyond = Math.max(0, area.bottom - shown.value.length + 1)
    area.bottom = Math.min(area.bottom, shown.value.length - 1)
    area.right = Math.min(area.right, columns.value.length - 1)
    const from = (row: number, col: number) => (one ? texts[0]![0]! : (texts[row - area.top]?.[col - area.left] ?? ''))
    if (texts.length) holder.set(edits(area, from), 'pasted')
    return beyond
  }
  /** The texts of the marked block, for a copy. */
  function copied(text = holder.text): string[][] {
    const { top, left, bottom, right } = block.value
    const ids = columns.value.slice(left, right + 1)
    return shown.value.slice(top, bottom + 1).map((row) => ids.map((id) => text(row, id)))
  }

  /** The next cell along a row and on to the next row; undefined past the end, where Tab leaves the grid. */
  function along(by: 1 | -1): Spot | undefined {
    const n = cursor.value.row * columns.value.length + cursor.value.col + by
    if (n < 0 || n >= shown.value.length * columns.value.length) return undefined
    return { row: Math.floor(n / columns.value.length), col: n % columns.value.length }
  }
  function arrow(event: KeyboardEvent): Spot | undefined {
    const { row, col } = cursor.value
    const [lastRow, lastCol] = [shown.value.length - 1, columns.value.length - 1]
    switch (event.key) {
      case 'ArrowUp':
        return { row: event.ctrlKey ? 0 : row - 1, col }
      case 'ArrowDown':
        return { row: event.ctrlKey ? lastRow : row + 1, col }
      case 'ArrowLeft':
        return { row, col: event.ctrlKey ? 0 : col - 1 }
      case 'ArrowRight':
        return { row, col: event.ctrlKey ? lastCol : col + 1 }
      case 'Home':
        return { row: event.ctrlKey ? 0 : row, col: 0 }
      case 'End':
        return { row: event.ctrlKey ? lastRow : row, col: lastCol }
      case 'PageUp':
        return { row: row - 12, col }
      case 'PageDown':
        return { row: row + 12, col }
    }
    return undefined
  }

  /** Keys of a cell that is typed into: true where the key is done with. */
  function typingKey(event: KeyboardEvent): boolean {
    if (event.key === 'Escape') {
      leave()
      return true
    }
    if (event.key === 'Enter' && event.ctrlKey) {
      take() // what is typed belongs to what is handed in
      return false
    }
    if (event.key === 'Enter') {
      take()
      go({ ...cursor.value, row: cursor.value.row + (event.shiftKey ? -1 : 1) })
      return true
    }
    if (event.key === 'Tab') {
      take()
      const next = along(event.shiftKey ? -1 : 1)
      if (next) go(next)
      return !!next
    }
    const to = inside.value && !['ArrowUp', 'ArrowDown'].includes(event.key) ? undefined : arrow(event)
    if (!to || event.shiftKey || event.altKey) return false
    take()
    go(to)
    return true
  }
  /** Keys of a cell that stands as it is. */
  function standingKey(event: KeyboardEvent): boolean {
    const plain = !event.ctrlKey && !event.metaKey && !event.altKey
    const filling = { ArrowDown: 'down', ArrowRight: 'across', d: 'down', r: 'across' }[event.key] as 'down' | 'across'
    if (filling && (event.altKey ? event.key.startsWith('Arrow') : event.ctrlKey && event.key.length === 1)) {
      fill(filling)
      return true
    }
    if (event.altKey) return false // a command of the sheet, no text
    const to = arrow(event)
    if (to) {
      go(to, event.shiftKey)
      return true
    }
    if (event.key === 'Tab') {
      const next = along(event.shiftKey ? -1 : 1)
      if (next) go(next)
      return !!next
    }
    if (event.key === 'Escape' && marked.value) {
      heldAnchor.value = undefined
      return true
    }
    if (event.ctrlKey && event.key === 'a') {
      heldAnchor.value = hold({ row: 0, col: 0 })
      held.value = hold({ row: shown.value.length - 1, col: columns.value.length - 1 })
      return true
    }
    if (!plain) return false
    if (event.key === 'Enter') {
      go({ ...cursor.value, row: cursor.value.row + (event.shiftKey ? -1 : 1) })
      return true
    }
    if (event.key === 'F2') {
      begin(textAt(cursor.value.row, cursor.value.col), true)
      return true
    }
    if (event.key === 'Delete' || event.key === 'Backspace') {
      clear()
      return true
    }
    if (event.key.length !== 1 || event.key === ' ') return false
    begin('', false)
    return typed.value === undefined // the key itself goes into the field that has just opened
  }
  function key(event: KeyboardEvent) {
    if (event.defaultPrevented || !inCell(event)) return
    if (typed.value === undefined ? standingKey(event) : typingKey(event)) {
      event.preventDefault()
      event.stopPropagation()
    }
  }
  const spotAt = (event: Event): Spot | undefined => {
    const cell = (event.target as HTMLElement).closest<HTMLElement>('td[data-day]')
    const row = cell?.closest<HTMLElement>('[data-line]')?.dataset.line
    return row === undefined ? undefined : { row: Number(row), col: Number(cell!.dataset.day) }
  }
  function point(event: MouseEvent) {
    const at = spotAt(event)
    if (!at || event.button !== 0 || (event.target as HTMLElement).tagName === 'INPUT') return
    event.preventDefault()
    take()
    go(at, event.shiftKey)
    if (event.detail === 2 || touched()) begin(textAt(at.row, at.col), true)
  }
  function drag(event: MouseEvent) {
    const at = spotAt(event)
    if (at && event.buttons === 1 && focused.value && typed.value === undefined) go(at, true)
  }
  watch(
    places,
    () => {
      const before = held.value
      held.value = hold(cursor.value)
      // The browser takes the focus from what has another place.
      if (held.value.row !== before.row && held.value.on === before.on && focused.value) focus()
    },
    { flush: 'sync' },
  )
  return {
    shown,
    cursor,
    here,
    column,
    block,
    marked,
    isMarked,
    typed,
    inside,
    focused,
    key,
    point,
    drag,
    go,
    take,
    leave,
    begin,
    focus,
    clear,
    paste,
    copied,
  }
}

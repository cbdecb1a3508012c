import { computed, nextTick, ref, watch, type Ref } from 'vue'

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

/** What a grid of cells tells whoever holds it. */
export interface GridActions {
  /** A cell was typed into and taken. */
  type: (at: Spot, text: string) => void
  clear: (block: Block) => void
  /** Copies the first row or column of a block over the rest of it. */
  fill: (block: Block, along: 'down' | 'across') => void
  /** What stands in a cell, as it would be typed. */
  text: (at: Spot) => string
  /** Whether a cell can be typed into; what says why not is shown by whoever holds the grid. */
  open: (at: Spot) => boolean
  /** A letter with Alt held that is a command; true where it was one. Letters alone are typed. */
  command: (letter: string) => boolean
  /** Tells a row from the others, wherever it stands; the cursor stays with it. */
  key?: (row: number) => string
}

/** Whether an event comes from a cell of the grid, and not from a field among its rows. */
export const inCell = (event: Event) => !!(event.target as HTMLElement).closest('td[data-day]')

/** Fingers have no keys to begin typing with: a touch opens the cell. */
const touched = () => window.matchMedia('(pointer: coarse)').matches

/** The cursor, the marked block and the typing of a grid of cells, by keyboard and mouse. */
export function useGrid(
  rows: Ref<unknown[]>,
  columns: Ref<number>,
  body: Ref<HTMLElement | undefined>,
  actions: GridActions,
) {
  const cursor = ref<Spot>({ row: 0, col: 0 })
  const anchor = ref<Spot>()
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
  const bound = (at: Spot): Spot => ({
    row: Math.max(0, Math.min(rows.value.length - 1, at.row)),
    col: Math.max(0, Math.min(columns.value - 1, at.col)),
  })
  const cellAt = (at: Spot) =>
    body.value?.querySelector<HTMLElement>(`[data-line="${at.row}"] td[data-day="${at.col}"]`)

  function focus() {
    void nextTick(() => {
      const cell = cellAt(cursor.value)
      const field = cell?.querySelector('input')
      if (field) field.focus()
      else cell?.focus()
    })
  }
  const keyOf = (row: number) => (row < rows.value.length ? (actions.key?.(row) ?? String(row)) : '')
  /** The rows that cursor and anchor are on, by key: where rows come or go above them, they go along. */
  let [on, from] = ['', '']
  function hold() {
    on = keyOf(cursor.value.row)
    from = anchor.value ? keyOf(anchor.value.row) : ''
  }
  function go(at: Spot, extend = false) {
    anchor.value = extend ? (anchor.value ?? cursor.value) : undefined
    cursor.value = bound(at)
    hold()
    focus()
  }
  function begin(text: string, within: boolean) {
    if (!actions.open(cursor.value)) return
    typed.value = text
    inside.value = within
    focus()
  }
  function take() {
    const text = typed.value
    if (text === undefined) return
    typed.value = undefined
    actions.type(cursor.value, text)
  }
  function leave() {
    typed.value = undefined
    focus()
  }

  /** The next cell along a row and on to the next row; undefined past the end, where Tab leaves the grid. */
  function along(by: 1 | -1): Spot | undefined {
    const n = cursor.value.row * columns.value + cursor.value.col + by
    if (n < 0 || n >= rows.value.length * columns.value) return undefined
    return { row: Math.floor(n / columns.value), col: n % columns.value }
  }
  function arrow(event: KeyboardEvent): Spot | undefined {
    const { row, col } = cursor.value
    const [lastRow, lastCol] = [rows.value.length - 1, columns.value - 1]
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
    const fill = { ArrowDown: 'down', ArrowRight: 'across', d: 'down', r: 'across' }[event.key] as 'down' | 'across'
    if (fill && (event.altKey ? event.key.startsWith('Arrow') : event.ctrlKey && event.key.length === 1)) {
      actions.fill(block.value, fill)
      return true
    }
    if (event.altKey) {
      const letter = /^Key([A-Z])$/.exec(event.code)?.[1]
      return !!letter && actions.command(letter.toLowerCase())
    }
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
      anchor.value = undefined
      return true
    }
    if (event.ctrlKey && event.key === 'a') {
      anchor.value = { row: 0, col: 0 }
      cursor.value = bound({ row: rows.value.length - 1, col: columns.value - 1 })
      hold()
      return true
    }
    if (!plain) return false
    if (event.key === 'Enter') {
      go({ ...cursor.value, row: cursor.value.row + (event.shiftKey ? -1 : 1) })
      return true
    }
    if (event.key === 'F2') {
      begin(actions.text(cursor.value), true)
      return true
    }
    if (event.key === 'Delete' || event.key === 'Backspace') {
      actions.clear(block.value)
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
  function point(at: Spot, event: MouseEvent) {
    if (event.button !== 0 || (event.target as HTMLElement).tagName === 'INPUT') return
    event.preventDefault()
    take()
    go(at, event.shiftKey)
    if (event.detail === 2 || touched()) begin(actions.text(at), true)
  }
  function drag(at: Spot, event: MouseEvent) {
    if (event.buttons === 1 && focused.value && typed.value === undefined) go(at, true)
  }
  watch(
    () => rows.value.map((_, row) => keyOf(row)),
    (keys) => {
      const moved = (spot: Spot, key: string) => {
        const row = keys.indexOf(key)
        return bound(row < 0 ? spot : { ...spot, row })
      }
      const before = cursor.value
      cursor.value = moved(before, on)
      if (anchor.value) anchor.value = moved(anchor.value, from)
      if (on && keys.includes(on) && cursor.value.row !== before.row && focused.value) focus()
      if (!keys.includes(on)) hold()
    },
    { flush: 'sync' },
  )
  hold()
  return { cursor, block, marked, isMarked, typed, inside, focused, key, point, drag, go, take, leave, begin, focus }
}
export type Grid = ReturnType<typeof useGrid>

import { nextTick, ref } from 'vue'
import { beforeEach, describe, expect, it } from 'vitest'
import { useGrid, type Block } from './grid'

/** A grid of cells in the page, with what it told whoever holds it. */
function gridOf(rows: number, columns: number) {
  const told: string[] = []
  const body = document.createElement('tbody')
  for (let r = 0; r < rows; r++) {
    const row = body.appendChild(document.createElement('tr'))
    row.dataset.line = String(r)
    for (let c = 0; c < columns; c++) {
      const cell = row.appendChild(document.createElement('td'))
      cell.dataset.day = String(c)
      cell.tabIndex = 0
    }
  }
  document.body.replaceChildren(body)
  const lines = ref(Array.from({ length: rows }, (_, i) => i))
  const at = (b: Block) => `${b.top},${b.left}-${b.bottom},${b.right}`
  const grid = useGrid(lines, ref(columns), ref(body), {
    type: ({ row, col }, text) => told.push(`${row},${col}=${text}`),
    clear: (block) => told.push(`clear ${at(block)}`),
    fill: (block, along) => told.push(`fill ${along} ${at(block)}`),
    text: ({ row, col }) => `${row}${col}`,
    open: ({ row }) => row !== 2, // the third row is locked
    command: (letter) => letter === 'b' && !!told.push('command b'),
    key: (row) => `line ${lines.value[row]}`,
  })
  /** Presses keys in the cell under the cursor; ^ holds Ctrl, + Shift, ! Alt. */
  function press(...keys: string[]) {
    for (const text of keys) {
      const [, held = '', key = ''] = /^([\^+!]*)(.+)$/.exec(text)!
      const { row, col } = grid.cursor.value
      const cell = body.querySelector(`[data-line="${row}"] [data-day="${col}"]`)!
      const event = new KeyboardEvent('keydown', {
        key,
        ctrlKey: held.includes('^'),
        shiftKey: held.includes('+'),
        altKey: held.includes('!'),
        code: key.length === 1 ? `Key${key.toUpperCase()}` : key,
        cancelable: true,
      })
      Object.defineProperty(event, 'target', { value: cell })
      grid.key(event)
    }
    const { row, col } = grid.cursor.value
    return [row, col]
  }
  return { grid, told, press, lines }
}

let g: ReturnType<typeof gridOf>
beforeEach(() => (g = gridOf(4, 3)))

describe('the keys of a grid', () => {
  it('move the cursor, and stop at the edges', () => {
    expect(g.press('ArrowUp', 'ArrowLeft')).toEqual([0, 0])
    expect(g.press('ArrowDown', 'ArrowRight', 'ArrowRight', 'ArrowRight')).toEqual([1, 2])
    expect(g.press('Home')).toEqual([1, 0])
    expect(g.press('^End')).toEqual([3, 2])
    expect(g.press('^ArrowUp')).toEqual([0, 2])
  })
  it('go along a row and on to the next with Tab', () => {
    expect(g.press('End', 'Tab')).toEqual([1, 0])
    expect(g.press('+Tab')).toEqual([0, 2])
  })
  it('mark a block with Shift, which Escape lets go', () => {
    g.press('+ArrowDown', '+ArrowRight')
    expect(g.grid.isMarked(1, 1) && g.grid.isMarked(0, 0)).toBe(true)
    expect(g.grid.isMarked(2, 0)).toBe(false)
    g.press('Delete', '^d', '!ArrowRight')
    expect(g.told).toEqual(['clear 0,0-1,1', 'fill down 0,0-1,1', 'fill across 0,0-1,1'])
    g.press('Escape')
    expect(g.grid.marked.value).toBe(false)
    g.press('^a', 'Backspace')
    expect(g.told.at(-1)).toBe('clear 0,0-3,2')
  })
  it('begin to type with a digit, and take it with Enter, Tab or an arrow', () => {
    g.press('8')
    expect(g.grid.typed.value).toBe('')
    g.grid.typed.value = '8'
    expect(g.press('Enter')).toEqual([1, 0])
    g.press('7')
    g.grid.typed.value = '7'
    expect(g.press('Tab')).toEqual([1, 1])
    g.press('6')
    g.grid.typed.value = '6'
    expect(g.press('ArrowUp')).toEqual([0, 1])
    expect(g.told).toEqual(['0,0=8', '1,0=7', '1,1=6'])
  })
  it('leave what stands there with Escape', () => {
    g.press('8')
    g.grid.typed.value = '8'
    g.press('Escape')
    expect([g.grid.typed.value, g.told]).toEqual([undefined, []])
  })
  it('let the arrows move inside the text after F2', () => {
    g.press('F2')
    expect(g.grid.typed.value).toBe('00')
    expect(g.press('ArrowRight')).toEqual([0, 0])
    expect(g.press('ArrowDown')).toEqual([1, 0])
    expect(g.told).toEqual(['0,0=00'])
  })
  it('do not open what is locked', () => {
    g.press('ArrowDown', 'ArrowDown', '8')
    expect(g.grid.typed.value).toBeUndefined()
  })
  it('give letters with Alt to whoever holds the grid, and type letters alone', () => {
    g.press('!b', '!q')
    expect(g.told).toEqual(['command b'])
    for (const key of ['b', '-']) {
      g.press(key)
      expect(g.grid.typed.value, key).toBe('')
      g.press('Escape')
    }
    expect(g.told).toEqual(['command b'])
  })
  it('take what is typed before Ctrl Enter hands in', () => {
    g.press('8')
    g.grid.typed.value = '8'
    g.press('^Enter')
    expect(g.told).toEqual(['0,0=8'])
  })
})

it('keeps the cursor inside where lines go away', async () => {
  g.press('^End')
  g.lines.value = [0, 1]
  await nextTick()
  expect(g.grid.cursor.value).toEqual({ row: 1, col: 2 })
})

it('keeps the cursor and the marked block on their lines where others come or go above them', () => {
  g.press('ArrowDown', '+ArrowDown')
  g.lines.value = [9, 8, 0, 1, 2, 3]
  expect(g.grid.cursor.value).toEqual({ row: 4, col: 0 })
  expect(g.grid.isMarked(3, 0) && !g.grid.isMarked(2, 0)).toBe(true)
  g.lines.value = [2, 3]
  expect(g.grid.cursor.value.row).toBe(0)
})

import { nextTick, ref } from 'vue'
import { beforeEach, describe, expect, it } from 'vitest'
import { useEntryGrid } from './entryGrid'

/** A grid of cells in the page, with what it told whoever holds it. Rows are numbers, columns letters. */
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
  const days = ref(['a', 'b', 'c', 'd', 'e'].slice(0, columns))
  const grid = useEntryGrid<number>(lines, days, ref(body), {
    key: (row) => `line ${row}`,
    text: (row, column) => `${row}${column}`,
    open: (row) => row !== 2, // the third row is locked
    set: (edits, how) => told.push(`${how} ${edits.map((e) => `${e.row}${e.column}=${e.text}`).join(' ')}`),
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
  return { grid, told, press, lines, days }
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
    expect(g.told).toEqual([
      'emptied 0a= 0b= 1a= 1b=',
      'filled down 0a=0a 0b=0b 1a=0a 1b=0b',
      'filled across 0a=0a 0b=0a 1a=1a 1b=1a',
    ])
    g.press('Escape')
    expect(g.grid.marked.value).toBe(false)
    g.press('^a', 'Backspace')
    expect(g.told.at(-1)!.split(' ')).toHaveLength(1 + 4 * 3)
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
    expect(g.told).toEqual(['typed 0a=8', 'typed 1a=7', 'typed 1b=6'])
  })
  it('leave what stands there with Escape', () => {
    g.press('8')
    g.grid.typed.value = '8'
    g.press('Escape')
    expect([g.grid.typed.value, g.told]).toEqual([undefined, []])
  })
  it('let the arrows move inside the text after F2', () => {
    g.press('F2')
    expect(g.grid.typed.value).toBe('0a')
    expect(g.press('ArrowRight')).toEqual([0, 0])
    expect(g.press('ArrowDown')).toEqual([1, 0])
    expect(g.told).toEqual(['typed 0a=0a'])
  })
  it('do not open what is locked', () => {
    g.press('ArrowDown', 'ArrowDown', '8')
    expect(g.grid.typed.value).toBeUndefined()
  })
  it('leave letters with Alt to the sheet, and type letters alone', () => {
    g.press('!b', '!q')
    expect(g.grid.typed.value).toBeUndefined()
    for (const key of ['b', '-']) {
      g.press(key)
      expect(g.grid.typed.value, key).toBe('')
      g.press('Escape')
    }
    expect(g.told).toEqual([])
  })
  it('take what is typed before Ctrl Enter hands in', () => {
    g.press('8')
    g.grid.typed.value = '8'
    g.press('^Enter')
    expect(g.told).toEqual(['typed 0a=8'])
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

it('takes what is typed on the row and column it was begun on, whatever comes before them meanwhile', () => {
  g.press('ArrowDown', 'ArrowRight', '8')
  g.grid.typed.value = '8'
  g.lines.value = [7, 9, 0, 1, 2, 3]
  expect(g.grid.shown.value.slice(0, 4)).toEqual([0, 1, 2, 3]) // nothing moves while one types
  g.days.value = ['z', 'a', 'b', 'c']
  g.grid.take()
  expect(g.told).toEqual(['typed 1b=8'])
  expect(g.grid.cursor.value).toEqual({ row: 3, col: 2 })
})

describe('a block', () => {
  it('is copied from what stands before one cell', () => {
    g.press('ArrowDown', '^d', '!ArrowRight')
    expect(g.told).toEqual(['filled down 0a=0a 1a=0a', 'filled across 1a=1a'])
  })
  it('is pasted from its first cell on, and says how many rows found none', () => {
    g.press('ArrowDown', 'ArrowDown', 'ArrowRight')
    expect(g.grid.paste([['1', '2', '3'], ['4'], ['5', '6']])).toBe(1)
    expect(g.told).toEqual(['pasted 2b=1 2c=2 3b=4 3c='])
  })
  it('takes one pasted value in all of its cells', () => {
    g.press('+ArrowDown', '+ArrowRight')
    expect(g.grid.paste([['4']])).toBe(0)
    expect(g.told).toEqual(['pasted 0a=4 0b=4 1a=4 1b=4'])
    expect(g.grid.copied((row, column) => `${column}${row}`)).toEqual([
      ['a0', 'b0'],
      ['a1', 'b1'],
    ])
  })
})

import Papa from 'papaparse'
import { exportedRows } from '@/parts/ledger'
import { marksOf } from '@/parts/reading'

/** A figure as it is read, as a spreadsheet takes it; whatever else it is stays as it is. */
export function plainly(text: string, locale?: string): string {
  const { group, decimal } = marksOf(locale)
  const bare = (group ? text.replaceAll(group, '') : text).replace(decimal, '.').replace('−', '-')
  return /^-?\d+(\.\d+)?$/.test(bare) ? bare : text
}

/** What is read in a cell: texts, what is typed into fields, and what a picture says. */
function read(node: Node): string[] {
  if (node.nodeType === Node.TEXT_NODE) return [node.textContent!.replace(/\s+/g, ' ').trim()]
  if (!(node instanceof HTMLElement) || node.matches('.sr, [hidden], [aria-hidden="true"]')) return []
  if (node.dataset.value !== undefined) return [node.dataset.value] // it says itself what it holds
  if (node instanceof HTMLInputElement) {
    if (node.type === 'checkbox' || node.type === 'radio') return [node.checked ? 'yes' : 'no']
    return [node.value || (node.readOnly ? '' : node.placeholder.match(/\d/) ? node.placeholder : '')]
  }
  if (node instanceof HTMLSelectElement) return [node.selectedOptions[0]?.text ?? '']
  if (node instanceof HTMLTextAreaElement) return [node.value]
  if (node.getAttribute('role') === 'img') return [node.getAttribute('aria-label') ?? '']
  const parts = [...node.childNodes].flatMap(read).filter(Boolean)
  return node.matches('.two') ? [parts.join(', ')] : [parts.join(' ')]
}

/** A table as it is seen, row by row; a cell over several rows or columns stands in the first column of each of its rows. */
export function rowsOf(table: HTMLTableElement): string[][] {
  const rows: string[][] = []
  const down: { column: number; left: number; text: string }[] = []
  for (const tr of table.rows) {
    const row: string[] = []
    const over = () => {
      const from = down.find((d) => d.left && d.column === row.length)
      if (!from) return false
      from.left--
      return row.push(from.text) > 0
    }
    for (const cell of tr.cells) {
      while (over());
      const text = plainly(read(cell).join(' '))
      if (cell.rowSpan > 1) down.push({ column: row.length, left: cell.rowSpan - 1, text })
      row.push(text, ...Array<string>(cell.colSpan - 1).fill(''))
    }
    while (over());
    if (row.some(Boolean)) rows.push(row)
  }
  return rows
}

/** What a spreadsheet takes for the beginning of a formula, also behind spaces and in full width; a negative figure is none. */
const formula = /^[\s\u200b]*(?:[=+@|%＝＋－＠]|-(?![\d.]*$))|^[\t\r]/

/** All tables of a sheet as one CSV: each under its name, where there are several. Nothing where there are none. */
export function csvOf(sheet: ParentNode): string {
  const seen = [...sheet.querySelectorAll<HTMLTableElement>('table.ledger')].filter((t) => t.rows.length)
  const rows = seen.flatMap((table, i) => {
    const name = [table.getAttribute('aria-label') ?? '']
    const rows = exportedRows(table) ?? rowsOf(table)
    return seen.length > 1 ? [...(i ? [['']] : []), name, ...rows] : rows
  })
  // What a spreadsheet would run is defused; a negative figure is none of that.
  return rows.length ? Papa.unparse(rows, { escapeFormulae: formula }) + '\r\n' : ''
}

/** Hands the tables that are shown to the reader, as a file. False where there are none. */
export function exportSeen(name: string): boolean {
  const csv = csvOf(document.getElementById('sheet')!)
  if (!csv) return false
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob(['\ufeff', csv], { type: 'text/csv;charset=utf-8' }))
  link.download = `${name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '')}.csv`
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 1000)
  return true
}

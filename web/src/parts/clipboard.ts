import Papa from 'papaparse'

/** Texts as they were typed, so that clock times come through a copy inside the application. */
const ours = 'text/x-typed'

/** Reads a block that was copied from a spreadsheet: rows of cells, tab-separated. */
export function readBlock(text: string): string[][] {
  const rows = Papa.parse<string[]>(text.replace(/\r?\n$/, ''), { delimiter: '\t' }).data
  return rows.map((row) => row.map((cell) => cell.trim()))
}

export function writeBlock(rows: string[][]): string {
  return Papa.unparse(rows, { delimiter: '\t', newline: '\r\n' })
}

/** Puts a block on the clipboard: figures for other programs, what was typed for this one. */
export function copyBlock(event: ClipboardEvent, figures: string[][], typed: string[][]) {
  event.clipboardData?.setData('text/plain', writeBlock(figures))
  event.clipboardData?.setData(ours, writeBlock(typed))
  event.preventDefault()
}

export function pastedBlock(event: ClipboardEvent): string[][] {
  const data = event.clipboardData
  return readBlock(data?.getData(ours) || data?.getData('text/plain') || '')
}

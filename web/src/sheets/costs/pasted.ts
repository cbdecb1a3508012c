import { alsoRead, readColumns, readNumber } from '@/parts/reading'
import { less, sumOf, timesOf } from '@/parts/figures'
import type { Line } from './document'

/** What a column of a pasted table can be. */
export const roles = ['description', 'quantity', 'unit', 'unitCost', 'amount', 'job', 'costCode', 'none'] as const
export type Role = (typeof roles)[number]
export const roleNames: Record<Role, string> = {
  description: 'description',
  quantity: 'quantity',
  unit: 'unit',
  unitCost: 'unit cost',
  amount: 'amount',
  job: 'job',
  costCode: 'cost code',
  none: 'not used',
}

/** What jobs and codes are called in this book. */
export interface Known {
  job: (text: string) => number | undefined
  costCode: (text: string) => number | undefined
}

export interface Pasted {
  rows: string[][]
  roles: Role[]
  /** Numbers that could be one and a half or fifteen hundred are the latter. */
  thousands?: boolean
}

const figures: Role[] = ['quantity', 'unitCost', 'amount']

/** The first number in a pasted table that could be read in two ways, with the other one. */
export function pastedDoubt(pasted: Pasted): { text: string; plain: string; other: string } | undefined {
  for (const row of pasted.rows)
    for (const [i, text] of row.entries()) {
      const other = figures.includes(pasted.roles[i]!) ? alsoRead(text) : undefined
      if (other) return { text, plain: readNumber(text)!, other }
    }
  return undefined
}

const heads: [Role, RegExp][] = [
  ['quantity', /^(qty|quantity|count|how many|menge|quantit)/i],
  ['unitCost', /(unit (cost|price)|each|price|rate|preis|prix)/i],
  ['amount', /(amount|total|extended|betrag|montant)/i],
  ['unit', /^(unit|uom|u\/m|einheit)/i],
  ['job', /^(job|project)/i],
  ['costCode', /code/i],
  ['description', /(what|desc|item|material|text)/i],
]
const hasMoney = (text: string) => /\p{Sc}/u.test(text) || /[.,]\d{2}$/.test(text)
/** Whether two amounts differ by a cent at most, as one that was rounded does. */
const near = (a: string, b: string) => ['-0.01', '0.00', '0.01'].includes(sumOf([a, less(timesOf(b, '1'))]))

/** Rows of a spreadsheet, and what each of their columns is taken for: by its head, by the book's own numbers, by what is in it. */
export function readPasted(text: string, known: Known): Pasted | undefined {
  if (!text.includes('\t')) return undefined
  let rows = readColumns(text)
  const width = Math.max(...rows.map((r) => r.length))
  const named = rows[0]?.map((cell) => heads.find(([, like]) => like.test(cell))?.[0]) ?? []
  const headed =
    rows.length > 1 && !rows[0]!.some((c) => readNumber(c) !== undefined) && named.filter(Boolean).length > 1
  if (headed) rows = rows.slice(1)
  const column = (i: number) => rows.map((r) => r[i] ?? '').filter(Boolean)
  const found: Role[] = Array.from({ length: width }, (_, i) => (headed && named[i]) || 'none')
  const free = () => found.map((r, i) => (r === 'none' && column(i).length ? i : -1)).filter((i) => i >= 0)
  const take = (role: Role, fits: (i: number) => boolean) => {
    if (found.includes(role)) return
    const at = free().find(fits)
    if (at !== undefined) found[at] = role
  }
  const all = (test: (cell: string) => boolean) => (i: number) => column(i).every(test)
  const number = all((c) => readNumber(c) !== undefined)
  const text_ = all((c) => readNumber(c) === undefined)
  take('job', (i) => i > 0 && all((c) => known.job(c) !== undefined)(i) && !column(i).some(hasMoney))
  take('costCode', (i) => i > 0 && all((c) => known.costCode(c) !== undefined)(i))
  take('description', text_)
  take('unit', (i) => text_(i) && column(i).every((c) => c.length <= 8))
  const mostly = (i: number) => column(i).filter((c) => readNumber(c) !== undefined).length * 2 >= column(i).length
  const numbers = free().filter(mostly)
  if (!found.includes('unitCost')) {
    const money = numbers.filter((i) => column(i).some(hasMoney))
    const each = money[0] ?? (found.includes('quantity') || numbers.length < 2 ? numbers[0] : numbers[1])
    if (each !== undefined) found[each] = 'unitCost'
  }
  take('quantity', (i) => mostly(i) && i < (found.indexOf('unitCost') < 0 ? width : found.indexOf('unitCost')))
  take('amount', (i) => number(i) && column(i).some(hasMoney))
  return { rows, roles: found }
}

/** The lines that a pasted table makes, each with what is wrong with it; nothing is taken that was not understood. */
export function pastedLines(pasted: Pasted, known: Known): { line: Partial<Line>; wrong: string[] }[] {
  return pasted.rows.map((row) => {
    const of = (role: Role) => row[pasted.roles.indexOf(role)] ?? ''
    const wrong: string[] = []
    const figure = (role: Role) => {
      const text = of(role)
      if (!text) return ''
      const plain = (pasted.thousands && alsoRead(text)) || readNumber(text)
      if (plain === undefined) wrong.push(`${roleNames[role]}: “${text}” is not a number`)
      return plain ?? ''
    }
    const record = (role: 'job' | 'costCode') => {
      const text = of(role)
      const id = text ? known[role](text) : undefined
      if (text && id === undefined) wrong.push(`${roleNames[role]}: there is no “${text}”`)
      return id
    }
    const [quantity, amount] = [figure('quantity') || '1', figure('amount')]
    let unitCost = figure('unitCost')
    if (!unitCost && amount && quantity === '1') unitCost = amount
    if (!unitCost && !wrong.length) wrong.push('there is no unit cost')
    if (unitCost && amount && !near(timesOf(quantity, unitCost), amount))
      wrong.push(`${quantity} at ${unitCost} is not ${amount}`)
    const [jobId, costCodeId] = [record('job'), record('costCode')]
    return {
      line: {
        description: of('description'),
        quantity,
        unit: of('unit'),
        unitCost,
        ...(jobId ? { jobId } : {}),
        ...(costCodeId ? { costCodeId } : {}),
      },
      wrong,
    }
  })
}

/** What the lines come to, for a glance before they are taken. */
export const pastedSum = (lines: { line: Partial<Line> }[], digits = 2) =>
  sumOf(lines.map(({ line }) => line.unitCost && timesOf(line.quantity ?? '1', line.unitCost, digits)))

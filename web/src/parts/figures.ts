/** Formatting of figures, in the browser's locale; the server's decimals are never computed with. */

import { local } from '@/book/english'

const cache = new Map<string, Intl.NumberFormat>()

function numbers(digits: number): Intl.NumberFormat {
  const key = String(digits)
  let format = cache.get(key)
  if (!format) {
    format = new Intl.NumberFormat(undefined, { minimumFractionDigits: digits, maximumFractionDigits: digits })
    cache.set(key, format)
  }
  return format
}

/** A decimal text such as "1234.50" as people read it, with as many decimals as it has. */
export function figure(text: string | undefined | null): string {
  if (!text) return ''
  const digits = text.split('.')[1]?.length ?? 0
  return numbers(digits)
    .format(text as Intl.StringNumericLiteral)
    .replace('-', '−')
}

/** Hours for reading: 43, 8.5, 7.75. */
export function hours(text: string | undefined | null): string {
  return figure(text?.includes('.') ? text.replace(/0+$/, '').replace(/\.$/, '') : text)
}

export function isNegative(text: string | undefined | null): boolean {
  return !!text && text.startsWith('-')
}

/** A percentage such as "31.50" as "31.5 %". */
export function percent(text: string | undefined | null): string {
  if (!text) return ''
  const short = text.includes('.') ? text.replace(/0+$/, '').replace(/\.$/, '') : text
  return `${figure(short)} %`
}

/** A sentence's first letter. */
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

/** A number of things: "1 line", "3 lines", "2 entries". */
export function counted(n: number, thing: string): string {
  return `${n} ${n === 1 ? thing : thing.replace(/([^aeiou])y$/, '$1ie').replace(/(x|s|ch|sh)$/, '$1e') + 's'}`
}

/** A difference with its sign. */
export function difference(text: string): string {
  return isNegative(text) ? figure(text) : `+${figure(text)}`
}

const parts = (date: string) => new Date(`${date}T00:00:00Z`)

/** Writes days one way. A format costs far more to make than to use, so each is made once. */
function days(options: Intl.DateTimeFormatOptions): (date: string) => string {
  let format: Intl.DateTimeFormat | undefined
  return (date) => (format ??= new Intl.DateTimeFormat(undefined, { ...options, timeZone: 'UTC' })).format(parts(date))
}

/** "Wed 18 Nov" */
export const day = days({ weekday: 'short', day: 'numeric', month: 'short' })
/** "18 Nov" */
export const shortDay = days({ day: 'numeric', month: 'short' })
/** "18 Nov 2026" */
export const longDay = days({ day: 'numeric', month: 'short', year: 'numeric' })
/** "November 2026" */
export const monthName = days({ month: 'long', year: 'numeric' })
/** "Wed" */
export const weekday = days({ weekday: 'short' })

/** "25 Nov, 9:02" */
export function moment(at: string): string {
  return new Date(at).toLocaleString(undefined, { day: 'numeric', month: 'short', hour: 'numeric', minute: '2-digit' })
}

/** A sentence of the book with its dates and its decimals as people here write them; numbers, and what is no date, stay. */
export function inWords(text: string): string {
  return local(text)
    .replace(/\b\d{4}-\d\d-\d\d\b/g, (date) => (isNaN(Date.parse(date)) ? date : longDay(date)))
    .replace(/(?<![\w.,:/-])-?\d+\.\d{2}(?![\d.,:/-]*\d|\w)/g, figure)
}

export function dayNumber(date: string): number {
  return parts(date).getUTCDate()
}

export function addDays(date: string, days: number): string {
  const d = parts(date)
  d.setUTCDate(d.getUTCDate() + days)
  return d.toISOString().slice(0, 10)
}

/** 0 for Sunday to 6 for Saturday. */
export function weekdayNumber(date: string): number {
  return parts(date).getUTCDay()
}

/** The book's decimal with the other sign. */
export const less = (decimal: string) => (decimal.startsWith('-') ? decimal.slice(1) : `-${decimal}`)

export const kindNames: Record<string, string> = {
  get labour() {
    return local('Labour')
  },
  material: 'Material',
  equipment: 'Equipment',
  subcontract: 'Subcontract',
  expense: 'Expense',
  mileage: 'Mileage',
}
/** What an invoice bills beside that. */
export const billedNames: Record<string, string> = {
  ...kindNames,
  get labour() {
    return kindNames.labour!
  },
  fixed: 'Fixed price',
  other: 'Other',
  deposit: 'Deposit',
}

export const basisNames: Record<string, string> = { tm: 'T&M', fixed: 'fixed', none: 'never billed' }

/** A decimal text in whole units of its last of some decimals. */
function minor(text: string, digits: number): bigint {
  const [whole = '', part = ''] = text.replace('-', '').split('.')
  const size = BigInt(whole + part.padEnd(digits, '0'))
  return text.startsWith('-') ? -size : size
}
function decimal(units: bigint, digits: number): string {
  const text = String(units < 0n ? -units : units).padStart(digits + 1, '0')
  const cut = text.length - digits
  return `${units < 0n ? '-' : ''}${text.slice(0, cut)}${digits ? `.${text.slice(cut)}` : ''}`
}
const digitsOf = (text: string) => text.split('.')[1]?.length ?? 0

/** The exact sum of decimal texts, such as those of what was chosen, with as many decimals as they have; blank for none. */
export function sumOf(texts: (string | undefined | null)[]): string {
  const given = texts.filter((t): t is string => !!t)
  if (!given.length) return ''
  const digits = Math.max(...given.map(digitsOf))
  return decimal(
    given.reduce((sum, t) => sum + minor(t, digits), 0n),
    digits,
  )
}

/** The product of two decimal texts, rounded half away from 0 to some decimals, as the book rounds (calculation.md section 1). */
export function timesOf(a: string, b: string, digits = 2): string {
  const [over, product] = [digitsOf(a) + digitsOf(b) - digits, minor(a, digitsOf(a)) * minor(b, digitsOf(b))]
  if (over <= 0) return decimal(product * 10n ** BigInt(-over), digits)
  const by = 10n ** BigInt(over)
  return decimal((product + (product < 0n ? -by : by) / 2n) / by, digits)
}

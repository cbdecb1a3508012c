/** Reads what people type, in the way in which the same is shown to them: the inverse of figures. */

interface Marks {
  group: string
  decimal: string
}
const known = new Map<string, Marks>()

/** The marks that a locale writes numbers with. */
export function marksOf(locale?: string): Marks {
  const key = locale ?? ''
  let marks = known.get(key)
  if (!marks) {
    const parts = new Intl.NumberFormat(locale).formatToParts(-1234567.5)
    const of = (type: string) => parts.find((p) => p.type === type)?.value ?? ''
    known.set(key, (marks = { group: of('group'), decimal: of('decimal') }))
  }
  return marks
}

const spaces = /[\s\u00a0\u202f]/g
const apostrophes = /['’]/g

/** Whether digits stand in groups of three, as a mark between thousands leaves them. */
const inGroups = (whole: string, mark: string) =>
  whole.split(mark).every((part, i) => (i ? /^\d{3}$/ : /^[1-9]\d{0,2}$/).test(part))

/** The whole and the fraction of a number with the marks it is written with; undefined where they can't be those. */
function taken(digits: string, marks: Marks): [string, string] | undefined {
  const [whole = '', fraction, ...more] = digits.split(marks.decimal)
  if (more.length || fraction === '' || (whole === '' && fraction === undefined)) return undefined
  const bare = whole.includes(marks.group) && marks.group ? (inGroups(whole, marks.group) ? whole : 'no') : whole
  const plain = marks.group ? bare.replaceAll(marks.group, '') : bare
  return /^\d*$/.test(plain) && /^\d*$/.test(fraction ?? '') ? [plain || '0', fraction ?? ''] : undefined
}

/**
 * A number as it is shown here, with or without thousands, a currency or a percent sign, as a plain decimal such as "-1250.50".
 * What can't be that but is a number in another country's way ("1,250.50" where 1.250,50 is shown) is read as such; undefined
 * where it is no number.
 */
export function readNumber(text: string, locale?: string): string | undefined {
  let rest = text
    .trim()
    .replace(/\p{Sc}/gu, '')
    .replace(/%$/, '')
    .trim()
    .replace('−', '-')
  const brackets = /^\((.*)\)$/.exec(rest)
  const minus = !!brackets || rest.startsWith('-')
  rest = (brackets ? brackets[1]! : rest.replace(/^[-+]/, '')).replace(spaces, '').replace(apostrophes, '')
  if (!/\d/.test(rest)) return undefined
  const { group, decimal } = marksOf(locale)
  const here = { group: /[.,]/.test(group) ? group : decimal === ',' ? '.' : ',', decimal }
  const found = taken(rest, here) ?? taken(rest, { group: here.decimal, decimal: here.group })
  if (!found) return undefined
  const [whole, fraction] = found
  const plain = `${whole.replace(/^0+(?=\d)/, '')}${fraction ? `.${fraction}` : ''}`
  return minus && /[1-9]/.test(plain) ? `-${plain}` : plain
}

/**
 * What else a number could be meant as, as a plain decimal: "1.500" where that is one and a half could be fifteen hundred, as it
 * is written in other countries. Undefined where there is no doubt.
 */
export function alsoRead(text: string, locale?: string): string | undefined {
  const found = /^\D*([1-9]\d{0,2})([.,])(\d{3})\D*$/.exec(text.trim())
  return found && found[2] === marksOf(locale).decimal ? found[1]! + found[3]! : undefined
}

const iso = (year: number, month: number, day: number): string | undefined => {
  const date = new Date(Date.UTC(year, month - 1, day))
  const real = date.getUTCMonth() === month - 1 && date.getUTCDate() === day
  return real ? date.toISOString().slice(0, 10) : undefined
}

/** The order in which a locale writes day, month and year. */
function orderOf(locale?: string): string[] {
  return new Intl.DateTimeFormat(locale, { year: 'numeric', month: 'numeric', day: 'numeric', timeZone: 'UTC' })
    .formatToParts(0)
    .map((p) => p.type)
    .filter((t) => t === 'day' || t === 'month' || t === 'year')
}

const plainWord = (word: string) =>
  word
    .toLowerCase()
    .normalize('NFD')
    .replace(/[^\p{L}]/gu, '')

/** The month that a word begins, in the locale or in English. */
function monthOf(word: string, locale?: string): number {
  const begun = plainWord(word)
  if (begun.length < 3) return 0
  for (const of of [locale, 'en'])
    for (const style of ['short', 'long'] as const)
      for (let m = 0; m < 12; m++) {
        const name = plainWord(
          new Date(Date.UTC(2000, m, 15)).toLocaleDateString(of, { month: style, day: 'numeric', timeZone: 'UTC' }),
        )
        if (name === begun || (begun.length >= 3 && name.startsWith(begun)) || begun.startsWith(name)) return m + 1
      }
  return 0
}

const ahead = 60 * 86_400_000
/** The date that a day and a month without a year are: the last one, or one that is less than two months ahead. */
function latest(month: number, day: number, today: string): string | undefined {
  const year = Number(today.slice(0, 4))
  return [year + 1, year, year - 1]
    .map((y) => iso(y, month, day))
    .find((d) => d && Date.parse(d) <= Date.parse(today) + ahead)
}

/**
 * A date as people write it, as "2026-11-18": 3/9 or 9.3. in the order of the locale, with or without a year, 18 Nov, today,
 * yesterday, -1 or +7 for days from today, 2026-11-18. Undefined where it is none.
 */
export function readDate(text: string, today: string, locale?: string): string | undefined {
  const typed = text.trim().toLowerCase()
  const shift = /^([-+]\d{1,3})$/.exec(typed.replace('−', '-'))
  const days = { today: 0, yesterday: -1, tomorrow: 1 }[typed] ?? (shift ? Number(shift[1]) : undefined)
  if (days !== undefined) return new Date(Date.parse(today) + days * 86_400_000).toISOString().slice(0, 10)
  const whole = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(typed)
  if (whole) return iso(Number(whole[1]), Number(whole[2]), Number(whole[3]))
  const numbers = typed.match(/\d+/g)?.map(Number) ?? []
  const word = typed.match(/\p{L}[\p{L}.]*/gu)?.find((w) => monthOf(w, locale))
  const full = (year: number) => (year < 100 ? 2000 + year : year)
  if (word) {
    const [day = 0, year] = (numbers[0] ?? 0) > 31 ? [numbers[1], numbers[0]] : numbers
    if (numbers.length > 2) return undefined
    const month = monthOf(word, locale)
    return year === undefined ? latest(month, day, today) : iso(full(year), month, day)
  }
  if (!/^[\d\s./-]+$/.test(typed) || numbers.length < 2 || numbers.length > 3) return undefined
  // A dot is how days come first; with anything else it is the locale that says.
  const order = orderOf(locale).filter((t) => numbers.length === 3 || t !== 'year')
  if (typed.includes('.') && order[0] === 'month') order.splice(0, 2, 'day', 'month')
  const of = Object.fromEntries(order.map((t, i) => [t, numbers[i]!])) as Record<string, number>
  if (of.year === undefined) return latest(of.month!, of.day!, today)
  return of.year < 100 || of.year > 1900 ? iso(full(of.year), of.month!, of.day!) : undefined
}

/** Columns of a text as a spreadsheet gives them, each cell trimmed. */
export function readColumns(text: string): string[][] {
  return text
    .replace(/\r/g, '')
    .split('\n')
    .map((line) => line.split('\t').map((cell) => cell.trim()))
    .filter((row) => row.some(Boolean))
}

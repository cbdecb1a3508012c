import type { Schema } from '@/api/client'

type Account = Schema['Account']

/** What a customer owes by its age, with what is retained and credit on the same scale. */
export function shares(account: Account) {
  const ages = (account.ages ?? []).map((a, i) => ({ ...a, kind: i === 0 ? 'due' : 'late' }))
  const all = [
    ...ages,
    { label: 'retained', amount: account.retained, kind: 'retained' },
    { label: 'credit', amount: account.credit, kind: 'credit' },
  ]
  const most = Math.max(1, ...all.map((a) => Number(a.amount)))
  return all.map((a) => ({ ...a, share: Math.max(0, Number(a.amount)) / most, kind: Number(a.amount) ? a.kind : '' }))
}

/** The height of the tallest month, in pixels. */
const tallest = 64

/** What was billed by month as bars: the figure over each in thousands. */
export function bars(income: Schema['Income'][]) {
  const name = new Intl.DateTimeFormat(undefined, { month: 'long', year: 'numeric', timeZone: 'UTC' })
  const letter = new Intl.DateTimeFormat(undefined, { month: 'narrow', timeZone: 'UTC' })
  const most = Math.max(1, ...income.map((m) => Number(m.billed) + Number(m.drafted ?? 0)))
  const tall = (amount?: string) => Math.round((Math.max(0, Number(amount ?? 0)) / most) * tallest)
  return income.map((m) => {
    const [year, month] = m.month.split('-').map(Number)
    const day = Date.UTC(year!, month! - 1, 1)
    const thousands = Math.round(Number(m.billed) / 1000)
    return {
      month: m.month,
      billed: m.billed,
      name: name.format(day),
      letter: letter.format(day),
      short: thousands ? String(thousands) : '',
      tall: tall(m.billed),
      drafted: tall(m.drafted),
    }
  })
}

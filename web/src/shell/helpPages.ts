import { marked } from 'marked'
import { local } from '@/book/english'

/** The pages of help, from docs/help: what each sheet is for, and how one does it. */
const files = import.meta.glob<string>('../../../docs/help/*.md', { query: '?raw', import: 'default', eager: true })

/** A part of a page, under a heading of its own. */
export interface HelpPart {
  sheet: string
  title: string
  text: string
  html: string
}

const nameOf = (file: string) => /([^/]+)\.md$/.exec(file)![1]!

/** All parts, page by page: the first of each says what the sheet is for. */
export const helpParts: HelpPart[] = Object.entries(files).flatMap(([file, page]) =>
  page
    .split(/^#{1,2} /m)
    .slice(1)
    .map((part) => {
      const [title = '', ...lines] = local(part).split('\n')
      const text = lines.join('\n').trim()
      return { sheet: nameOf(file), title, text, html: marked.parse(text, { async: false }) }
    }),
)

/** The page of the sheet at an address. */
export function sheetAt(path: string): string {
  const first = path.split('/')[1] ?? ''
  return first === '' ? 'today' : ({ hours: 'clock', page: 'setup' }[first] ?? first)
}

/** What is shown: the page of a sheet, or with words all parts that have each of them. */
export function helpFor(sheet: string, typed: string): HelpPart[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean)
  if (!words.length) return helpParts.filter((p) => p.sheet === sheet)
  return helpParts.filter((p) => words.every((w) => `${p.title} ${p.text}`.toLowerCase().includes(w)))
}

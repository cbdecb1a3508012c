import { until } from '@/testing/app'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia, setActivePinia } from 'pinia'
import { createApp } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useOutbox, type Place } from './outbox'
import { useUndo } from './undo'

const named = (id: number) => ({ id, code: `c${id}`, name: `N${id}` })
const place: Place = { worker: named(1), job: named(1), billable: true, payClass: 'auto' }
const sheet = { week: '2026-11-16', crew: 'Pile', job: '' }
const base = { workerId: 1, jobId: 1, billable: true, date: '2026-11-16', text: '' }

/** The book: what it was sent, and how it answers. */
let sent: { text: string; entryId?: number; version?: number; key?: string }[][]
let answer: (edits: (typeof sent)[number]) => Response | Promise<Response>

function open() {
  const app = createApp({})
  const pinia = createPinia()
  app.use(pinia).use(VueQueryPlugin, { queryClient: new QueryClient() })
  setActivePinia(pinia)
  return app.runWithContext(() => {
    const outbox = useOutbox()
    outbox.open('book', 'Ada')
    return outbox
  })
}
const type = (outbox: ReturnType<typeof open>, text: string, seen: object = {}, cell = 'a|2026-11-16') =>
  outbox.put({ sheet, cell, place }, { ...base, ...seen }, { text })

beforeEach(() => {
  localStorage.clear()
  sent = []
  answer = (edits) => Response.json({ saved: edits.map((_, i) => ({ entryId: 10 + i, version: sent.length })) })
  vi.stubGlobal('fetch', async (request: Request) => {
    if (!request.url.includes('/api/time/cells')) return Response.json({})
    const { edits } = (await request.json()) as { edits: (typeof sent)[number] }
    sent.push(edits)
    return answer(edits)
  })
})
afterEach(() => vi.unstubAllGlobals())

describe('what is typed into crew sheets', () => {
  it('is sent once, the last text of a cell', async () => {
    const outbox = open()
    type(outbox, '7')
    type(outbox, '8')
    expect(outbox.unsaved.get('a|2026-11-16')?.edit.text).toBe('8')
    await outbox.send()
    expect(sent.map((edits) => edits.map((e) => e.text))).toEqual([['8']])
    expect(outbox.items).toEqual([])
    expect(localStorage.length).toBe(0)
  })
  it('is kept over a lost connection and a reload, and sent under the same key', async () => {
    answer = () => Promise.reject(new TypeError('lost'))
    const before = open()
    type(before, '8')
    await before.send()
    expect(before.items).toHaveLength(1)
    const key = sent[0]![0]!.key
    answer = (edits) => Response.json({ saved: edits.map(() => ({ entryId: 10, version: 1 })) })
    const after = open() // another window of the same person, or the same one after a reload
    await until(() => expect(after.items).toEqual([]))
    expect(sent.at(-1)![0]).toMatchObject({ text: '8', key })
  })
  it('is sent by one of two windows that took it up', async () => {
    answer = () => Promise.reject(new TypeError('lost'))
    const before = open()
    type(before, '8')
    await before.send()
    sent = []
    answer = (edits) => Response.json({ saved: edits.map(() => ({ entryId: 10, version: 1 })) })
    const windows = [open(), open()]
    await until(() => expect(windows.map((w) => w.items.length)).toEqual([0, 0]))
    expect(sent).toHaveLength(1)
    expect(localStorage.length).toBe(0)
  })
  it('goes on from what was sent when it is typed again for want of an answer', async () => {
    const outbox = open()
    answer = () => Promise.reject(new TypeError('lost'))
    type(outbox, '8')
    await outbox.send()
    type(outbox, '9')
    answer = (edits) => Response.json({ saved: edits.map(() => ({ entryId: 10, version: 1 })) })
    await outbox.send()
    expect(sent.map((edits) => edits.map((e) => e.text))).toEqual([['8'], ['8'], ['9']])
    expect(sent[1]![0]!.key).toBe(sent[0]![0]!.key) // the book knows it for the same
    expect(sent[2]![0]).toMatchObject({ entryId: 10, version: 1 })
  })
  it('changes the entry that the edit before it made, also where that was still on its way', async () => {
    const outbox = open()
    let arrived = () => {}
    const waits = new Promise<void>((done) => (arrived = done))
    answer = async (edits) => {
      await waits
      return Response.json({ saved: edits.map(() => ({ entryId: 10, version: 1 })) })
    }
    type(outbox, '8')
    const sending = outbox.send()
    await until(() => expect(sent).toHaveLength(1))
    type(outbox, '9') // typed over what is on its way
    arrived()
    await sending
    await until(() => expect(outbox.items).toEqual([]))
    expect(sent[1]).toMatchObject([{ text: '9', entryId: 10, version: 1 }])
  })
  it('stays where it is refused, with the sentence beside it, and the rest goes on', async () => {
    const outbox = open()
    answer = (edits) => {
      const wrong = edits.findIndex((e) => e.text === '7-25')
      if (wrong < 0) return Response.json({ saved: edits.map(() => ({ entryId: 11, version: 1 })) })
      const errors = [{ path: `edits[${wrong}].text`, message: 'there is no hour 25' }]
      return Response.json({ title: 'Refused', status: 422, detail: 'look again', errors }, { status: 422 })
    }
    type(outbox, '7-25')
    type(outbox, '8', {}, 'b|2026-11-16')
    await outbox.send()
    expect(outbox.wrong.map((i) => [i.edit.text, i.said])).toEqual([['7-25', 'there is no hour 25']])
    await until(() => expect(outbox.items).toHaveLength(1))
    expect(sent.at(-1)).toMatchObject([{ text: '8' }])
    type(outbox, '7-3')
    await outbox.send()
    expect(outbox.items).toEqual([])
  })
  it('shows what stands there now where somebody else was quicker', async () => {
    const outbox = open()
    answer = () =>
      Response.json(
        {
          title: 'Conflict',
          status: 409,
          detail: 'Tom has changed this',
          errors: [{ path: 'edits[0].text', message: 'Tom has changed this to 6 h' }],
          current: [{ edit: 0, entryId: 10, version: 4, text: '6' }],
        },
        { status: 409 },
      )
    type(outbox, '8', { entryId: 10, version: 3 })
    await outbox.send()
    expect(outbox.wrong[0]?.theirs).toMatchObject({ version: 4, text: '6' })
  })
})

describe('undo', () => {
  it('takes steps back and does them again, until something else is done', () => {
    setActivePinia(createPinia())
    const undo = useUndo()
    const log: string[] = []
    const step = (what: string) => ({
      what,
      undo: () => void log.push(`-${what}`),
      redo: () => (log.push(`+${what}`), what === 'b' ? 'b only in part' : undefined),
    })
    undo.did(step('a'))
    undo.did(step('b'))
    undo.undo()
    undo.undo()
    undo.undo()
    undo.redo()
    expect(undo.said).toBe('Done again: a')
    undo.redo()
    expect(undo.said).toBe('b only in part')
    undo.undo()
    undo.did(step('c'))
    undo.redo()
    expect(log).toEqual(['-b', '-a', '+a', '+b', '-b'])
    expect(undo.last).toBe('c')
    undo.forget()
    undo.undo()
    expect(log).toHaveLength(5)
  })
})

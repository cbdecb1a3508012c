import { useQuery } from '@tanstack/vue-query'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { windowName } from '@/api/client'
import { bookThat, inApp } from '@/testing/app'
import { useNews } from './news'

/** The stream of news, in the hands of the test. */
let stream: { onmessage?: (event: { data: string }) => void; close: () => void }
const tell = (...news: object[]) => stream.onmessage?.({ data: JSON.stringify({ news }) })

beforeEach(() => {
  vi.useFakeTimers()
  vi.stubGlobal(
    'EventSource',
    class {
      constructor() {
        stream = this as never
      }
      close() {}
    },
  )
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

/** A window that looks at some lists; how often each was read. */
async function looking(...lists: string[]) {
  const read: Record<string, number> = {}
  const calls = bookThat({ 'GET /api/time/sheet': { lines: [], part: [2] } })
  inApp(() => {
    for (const name of lists)
      useQuery({
        queryKey: name === 'time' ? ['time', { week: '2026-11-16', crew: 'Pile', job: '' }] : [name],
        queryFn: () => ((read[name] = (read[name] ?? 0) + 1), { lines: [] }),
      })
    useNews()
  })
  await vi.advanceTimersByTimeAsync(10)
  tell()
  await vi.advanceTimersByTimeAsync(10)
  return { read, sheets: () => calls.filter((c) => c.what === 'GET /api/time/sheet').length }
}

describe('what others change', () => {
  it('is looked at again where it is shown, and its sums at leisure', async () => {
    const { read } = await looking('costs', 'time-list', 'counts')
    tell({ kind: 'cost_document', who: 'Tom', window: 'another' })
    await vi.advanceTimersByTimeAsync(100)
    expect(read).toEqual({ costs: 2, 'time-list': 1, counts: 2 })
    for (let n = 0; n < 10; n++) {
      tell({ kind: 'cost_document', who: 'Tom', window: 'another' })
      await vi.advanceTimersByTimeAsync(500)
    }
    expect(read.counts).toBe(2)
    expect(read.costs).toBeLessThanOrEqual(6) // ten times in five seconds, read every second and a half
    await vi.advanceTimersByTimeAsync(10_000)
    expect(read.counts).toBe(3)
  })
  it('is not looked at again where this window changed it', async () => {
    const { read } = await looking('costs')
    tell({ kind: 'cost_document', who: 'Ada', window: windowName })
    await vi.advanceTimersByTimeAsync(20_000)
    expect(read.costs).toBe(1)
  })
  it('is read for the workers it is of, and for all where it says of nobody', async () => {
    const { read, sheets } = await looking('time')
    tell({ kind: 'time_entry', who: 'Tom', window: 'another', worker: 2 })
    await vi.advanceTimersByTimeAsync(100)
    expect([sheets(), read.time]).toEqual([1, 1])
    await vi.advanceTimersByTimeAsync(5000)
    tell({ kind: 'time_entry', who: 'Tom', window: 'another' })
    await vi.advanceTimersByTimeAsync(100)
    expect([sheets(), read.time]).toEqual([1, 2])
  })
  it('is all looked at again where a worker, a job or a rate was changed, or the connection was lost', async () => {
    const { read } = await looking('costs', 'time-list')
    tell({ kind: 'labour_rate', who: 'Tom', window: 'another' })
    await vi.advanceTimersByTimeAsync(100)
    expect(read).toEqual({ costs: 2, 'time-list': 2 })
    await vi.advanceTimersByTimeAsync(5000)
    tell() // connected once more
    await vi.advanceTimersByTimeAsync(100)
    expect(read).toEqual({ costs: 3, 'time-list': 3 })
  })
})

import { afterEach, expect, it, vi } from 'vitest'
import { ask } from './known'

afterEach(() => vi.unstubAllGlobals())

it('is told again what has not changed, without its being sent again', async () => {
  const tags: (string | null)[] = []
  let now = { tag: '"a"', text: '{"n":1}' }
  vi.stubGlobal('fetch', (request: Request) => {
    const has = request.headers.get('if-none-match')
    tags.push(has)
    return Promise.resolve(
      has === now.tag ? new Response(null, { status: 304 }) : new Response(now.text, { headers: { etag: now.tag } }),
    )
  })
  const counted = async () => (await ask(new Request('http://book/api/counts'))).json() as Promise<{ n: number }>
  expect([await counted(), await counted()]).toEqual([{ n: 1 }, { n: 1 }])
  now = { tag: '"b"', text: '{"n":2}' }
  expect([await counted(), await counted()]).toEqual([{ n: 2 }, { n: 2 }])
  expect(tags).toEqual([null, '"a"', '"a"', '"b"'])
})

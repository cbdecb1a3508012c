import { afterEach, expect, it, vi } from 'vitest'
import { answered, client, type Schema } from '@/api/client'
import { bookThat, inApp, until } from '@/testing/app'
import { useEdit } from './edit'

afterEach(() => vi.unstubAllGlobals())

it('keeps what is typed while the record is saved, on the version it was saved as', async () => {
  const stored = { phone: '555 0100', email: '', version: 3 }
  let arrive: (answer: unknown) => void = () => {}
  const calls = bookThat({ 'PUT /api/company': () => new Promise((done) => (arrive = done)) })
  const edit = inApp(() =>
    useEdit({
      typed: ({ phone, email }: typeof stored) => ({ phone, email }),
      put: (_, body, query) =>
        answered(client.PUT('/api/company', { params: { query }, body: body as unknown as Schema['Settings'] })),
      again: () => Promise.resolve({ ...stored }),
    }),
  )
  edit.open({ ...stored })
  edit.form.model.email = 'office@kelp.example'
  const sent = edit.form.submit()
  await until(() => expect(calls).toHaveLength(1))
  edit.form.model.phone = '555 0199'
  Object.assign(stored, { email: 'office@kelp.example', version: 4 })
  arrive({})
  expect(await sent).toBe(true)
  expect(edit.form.model).toEqual({ phone: '555 0199', email: 'office@kelp.example' })
  expect(edit.form.dirty).toBe(true)
  const next = edit.form.submit()
  await until(() => expect(calls).toHaveLength(2))
  expect(calls[1]!.body).toMatchObject({ phone: '555 0199', version: 4 })
  arrive({})
  await next
  expect(edit.form.dirty).toBe(false)
})

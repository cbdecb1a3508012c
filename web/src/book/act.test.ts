import { afterEach, describe, expect, it, vi } from 'vitest'
import { answered, client, newKey } from '@/api/client'
import { bookThat, inApp, refusal, until } from '@/testing/app'
import { useAct } from './act'
import { useForm } from './form'
import { useHandIn } from './handIn'
import { useSession } from './session'

afterEach(() => vi.unstubAllGlobals())

const code = (name: string) => ({ code: '320', name })
const adding = () => {
  const { once, said, wrong } = inApp(() => useAct('users'))
  const send = (name: string) => once(code(name), (body) => answered(client.POST('/api/cost-codes', { body })))
  return { send, said, wrong }
}
const keys = (calls: ReturnType<typeof bookThat>) =>
  calls.filter((c) => c.what === 'POST /api/cost-codes').map((c) => (c.body as { key: string }).key)

describe('adding a record', () => {
  it('has the same key when it is sent again for want of an answer, and another once it is there', async () => {
    const answers: unknown[] = [() => Promise.reject(new TypeError('lost')), {}, {}]
    const calls = bookThat({
      'POST /api/cost-codes': () => {
        const answer = answers.shift()
        return typeof answer === 'function' ? answer() : answer
      },
    })
    const { send, said } = adding()
    expect(await send('Drive piles')).toBeUndefined()
    expect(said.value).not.toBe('')
    expect(await send('Drive piles')).toBeDefined()
    expect(await send('Drive piles')).toBeDefined()
    const [first, again, other] = keys(calls)
    expect(again).toBe(first)
    expect(other).not.toBe(first)
  })
  it('has another key when something else is sent', async () => {
    const calls = bookThat({
      'POST /api/cost-codes': () => refusal(422, 'look again', { name: 'there is one of that name' }),
    })
    const { send, wrong } = adding()
    await send('Drive piles')
    expect(wrong.value).toEqual({ name: 'there is one of that name' })
    await send('Drive long piles')
    const [first, other] = keys(calls)
    expect(other).not.toBe(first)
  })
})

describe('a key', () => {
  it('is made where the page is not from a safe origin', () => {
    vi.stubGlobal('crypto', { getRandomValues: crypto.getRandomValues.bind(crypto) }) // no randomUUID over plain HTTP
    const made = Array.from({ length: 20 }, newKey)
    expect(new Set(made).size).toBe(20)
    for (const key of made) expect(key).toMatch(/^[0-9a-f]{32}$/)
  })
})

describe('handing in hours that are dated ahead', () => {
  it('asks first, and says that they are meant when it is done once more', async () => {
    const calls = bookThat({
      'POST /api/time/hand-in': (body: { ahead: boolean }) =>
        body.ahead ? {} : refusal(422, 'look again', { ahead: '8 h are dated after today' }),
    })
    const { asks, handIn } = inApp(useHandIn)
    const week = (ahead: boolean) =>
      answered(client.POST('/api/time/hand-in', { body: { week: '2026-11-30', crew: '', job: '', mark: '', ahead } }))
    await expect(handIn(week)).rejects.toThrow('8 h are dated after today')
    expect(asks.value).toBe('8 h are dated after today')
    await handIn(week)
    expect(asks.value).toBe('')
    expect(calls.filter((c) => c.what.startsWith('POST')).map((c) => (c.body as { ahead: boolean }).ahead)).toEqual([
      false,
      true,
    ])
  })
})

describe('a form', () => {
  const codes = () =>
    inApp(() =>
      useForm({
        blank: () => ({ code: '', name: '' }),
        keep: ['code'],
        send: (body) => answered(client.POST('/api/cost-codes', { body })),
      }),
    )
  it('is blank again once it was sent, with what is kept of it, and dirty only while something is typed', async () => {
    bookThat({ 'POST /api/cost-codes': {} })
    const form = codes()
    Object.assign(form.model, code('Drive piles'))
    expect(form.dirty).toBe(true)
    expect(await form.submit()).toBe(true)
    expect(form.model).toEqual({ code: '320', name: '' })
    expect(form.dirty).toBe(false)
  })
  it('keeps what is typed while it is on its way, and all of it where it is refused', async () => {
    let arrive: (answer: unknown) => void = () => {}
    bookThat({ 'POST /api/cost-codes': () => new Promise((done) => (arrive = done)) })
    const form = codes()
    Object.assign(form.model, code('Drive piles'))
    const sent = form.submit()
    await until(() => expect(form.busy).toBe(true))
    form.model.name = 'Drive long piles'
    await until(() => arrive({}))
    await new Promise((done) => setTimeout(done))
    arrive({})
    await sent
    expect(form.model.name).toBe('Drive long piles')
  })
})

describe('a session that is over while something is sent', () => {
  it('waits until the same person has signed in again, and then goes on', async () => {
    let signedIn = false
    const calls = bookThat({
      'POST /api/session': () => ((signedIn = true), { name: 'Ada', signIn: 'ada', permissions: [] }),
      'POST /api/cost-codes': () => (signedIn ? {} : refusal(401, 'sign in first')),
    })
    const { act, session } = inApp(() => ({ ...useAct('users'), session: useSession() }))
    session.who = { name: 'Ada', signIn: 'ada', role: 'owner', permissions: [] }
    const sent = act(() =>
      answered(client.POST('/api/cost-codes', { body: { ...code('Drive piles'), key: newKey() } })),
    )
    await until(() => expect(session.over).toBe(true))
    await session.signInAgain('slack tide at dawn')
    expect(await sent).toBeDefined()
    expect(session.over).toBe(false)
    expect(calls.find((c) => c.what === 'POST /api/session')!.body).toMatchObject({ signIn: 'ada' })
  })
})

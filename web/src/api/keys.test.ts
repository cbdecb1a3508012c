import { until } from '@/testing/app'
import { QueryClient, QueryObserver } from '@tanstack/vue-query'
import { expect, it } from 'vitest'
import { show } from './keys'

it('shows what was answered to a change, also where an answer from before it comes later', async () => {
  const queries = new QueryClient()
  let book = 'as it was'
  const late: (() => void)[] = []
  const queryFn = () => {
    const now = book
    return new Promise<string>((done) => late.push(() => done(now)))
  }
  const shown = new QueryObserver(queries, { queryKey: ['time'], queryFn })
  shown.subscribe(() => undefined)
  book = 'changed'
  show(queries, ['time'], book)
  late[0]!() // asked before the change
  await until(() => expect(late).toHaveLength(2))
  late[1]!()
  await until(() => expect(queries.isFetching()).toBe(0))
  expect(queries.getQueryData(['time'])).toBe('changed')
  queries.clear()
})

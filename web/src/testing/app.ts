import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp, defineComponent, h, nextTick, type Component, type Slots } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { onTestFinished, vi } from 'vitest'
import { useSession } from '@/book/session'
import { makeVuetify } from '@/theme/vuetify'

/** A call that the book was sent. */
export interface Call {
  what: string
  body: unknown
}

const choices = { company: { today: '2026-11-25', weekStart: 'monday' }, jobs: [] }

/** A book that answers each call as it is told, and remembers them. A Response is given as it is: a refusal, for example. */
export function bookThat(answers: Record<string, unknown>): Call[] {
  const calls: Call[] = []
  vi.stubGlobal('fetch', async (asked: Request | string, init?: RequestInit) => {
    const request = asked instanceof Request ? asked : new Request(new URL(asked, location.href), init)
    const what = `${request.method} ${new URL(request.url).pathname}`
    const text = await request.text()
    calls.push({ what, body: text ? JSON.parse(text) : undefined })
    if (!(what in answers) && !what.startsWith('GET ')) throw new Error(`nobody expected ${what}`)
    const answer = what in answers ? answers[what] : what === 'GET /api/choices' ? choices : undefined
    const found = typeof answer === 'function' ? await answer(calls.at(-1)!.body) : (answer ?? {})
    return found instanceof Response ? found.clone() : Response.json(found)
  })
  return calls
}

export function refusal(status: number, detail: string, errors: Record<string, string> = {}, current?: unknown) {
  const listed = Object.entries(errors).map(([path, message]) => ({ path, message }))
  return Response.json({ title: 'Refused', status, detail, errors: listed, current }, { status })
}

/** Waits until something holds, as long as the test may take. */
export const until = <T>(holds: () => T | Promise<T>) => vi.waitFor(holds, { timeout: 600_000, interval: 5 })

/** A part in the page, as a sheet has it: its element. */
export async function mounted(part: Component, props: object = {}, slots: Record<string, unknown> = {}) {
  const box = document.body.appendChild(document.createElement('div'))
  const root = defineComponent(() => () => h(part, props, slots as never))
  const router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/:rest(.*)*', component: {} }] })
  const app = createApp(root).use(createPinia()).use(router).use(makeVuetify())
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  app.use(VueQueryPlugin, { queryClient })
  app.component('VBtn', (_: object, { slots }: { slots: Slots }) => h('button', { type: 'button' }, slots.default?.()))
  app.component('VMenu', (_: object, { slots }: { slots: Slots }) => slots.activator?.({ props: {} }))
  app.mount(box)
  await nextTick()
  onTestFinished(() => {
    app.unmount()
    queryClient.clear()
    box.remove()
  })
  return box
}

/** Uses something of the front end as a sheet does, by somebody who may do all of it. */
export function inApp<T>(use: () => T, path = '/'): T {
  let made!: T
  const router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/:rest(.*)*', component: {} }] })
  void router.push(path)
  const app = createApp(
    defineComponent({
      setup: () => {
        Object.assign(useSession(), {
          who: { permissions: ['capture', 'approve', 'costs', 'bill', 'setup'] },
          book: { today: '2026-11-25' },
        })
        made = use()
        return () => h('div')
      },
    }),
  )
  app.use(createPinia()).use(router)
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  app.use(VueQueryPlugin, { queryClient })
  app.mount(document.createElement('div'))
  onTestFinished(() => {
    app.unmount()
    queryClient.clear()
  })
  return made
}

import { createRouter, createWebHistory } from 'vue-router'
import { mayDiscard } from './book/leaving'
import { useSession } from './book/session'

declare module 'vue-router' {
  interface RouteMeta {
    tab?: string
    open?: boolean
  }
}

/** The sheets, each loaded when it is first opened. */
export const tabs = [
  { name: 'clock', path: '/clock', label: 'Clock', letter: 'k', needs: 'clock' },
  { name: 'hours', path: '/hours', label: 'Hours', letter: 'h', needs: 'clock' },
  { name: 'today', path: '/', label: 'Today', letter: 'd', needs: 'capture' },
  { name: 'time', path: '/time', label: 'Time', letter: 't', needs: 'capture' },
  { name: 'costs', path: '/costs', label: 'Costs', letter: 'c', needs: 'costs' },
  { name: 'approve', path: '/approve', label: 'Approve', letter: 'a', needs: 'approve' },
  { name: 'bill', path: '/bill', label: 'Bill', letter: 'b', needs: 'bill' },
  { name: 'jobs', path: '/jobs', label: 'Jobs', letter: 'j', needs: 'money' },
  { name: 'setup', path: '/setup', label: 'Setup', letter: 's', needs: 'setup' },
] as const

/** What of an address says which part of a sheet is there: where it is another, what is typed in the one before would go. */
const parts = ['part', 'list', 'open', 'change', 'add', 'view'] as const

type May = (permission: string) => boolean

/** A phone has the one or two sheets that its owner does out of the office; nothing else is squeezed in. */
export const isPhone = () => window.matchMedia('(max-width: 720px)').matches
export function onPhone(may: May): string[] {
  if (may('bill')) return ['clock', 'hours', 'today', 'approve']
  return may('approve') ? ['clock', 'hours', 'approve', 'time'] : ['clock', 'hours', 'time']
}

/** The sheet that somebody begins with. Who only clocks their own hours has no other. */
function homeOf(may: May): string {
  if (!may('capture')) return 'clock'
  if (!isPhone() || may('bill')) return 'today'
  return may('approve') ? 'approve' : 'time'
}

export function makeRouter() {
  const router = createRouter({
    history: createWebHistory(),
    routes: [
      { path: '/', name: 'today', component: () => import('./sheets/today/TodaySheet.vue'), meta: { tab: 'today' } },
      {
        path: '/clock',
        name: 'clock',
        component: () => import('./sheets/clock/ClockSheet.vue'),
        meta: { tab: 'clock' },
      },
      {
        path: '/hours',
        name: 'hours',
        component: () => import('./sheets/clock/HoursSheet.vue'),
        meta: { tab: 'hours' },
      },
      { path: '/time', name: 'time', component: () => import('./sheets/time/TimeSheet.vue'), meta: { tab: 'time' } },
      {
        path: '/costs',
        name: 'costs',
        component: () => import('./sheets/costs/CostsSheet.vue'),
        meta: { tab: 'costs' },
      },
      {
        path: '/approve',
        name: 'approve',
        component: () => import('./sheets/approve/ApproveSheet.vue'),
        meta: { tab: 'approve' },
      },
      { path: '/bill', name: 'bill', component: () => import('./sheets/bill/BillSheet.vue'), meta: { tab: 'bill' } },
      { path: '/jobs', name: 'jobs', component: () => import('./sheets/jobs/JobsSheet.vue'), meta: { tab: 'jobs' } },
      {
        path: '/jobs/:number',
        name: 'job',
        component: () => import('./sheets/jobs/JobFolder.vue'),
        meta: { tab: 'jobs' },
        props: true,
      },
      {
        path: '/setup',
        name: 'setup',
        component: () => import('./sheets/setup/SetupSheet.vue'),
        meta: { tab: 'setup' },
      },
      {
        path: '/page/:kind(supplier|customer|worker|item)/:id(\\d+)',
        name: 'page',
        component: () => import('./sheets/page/RecordPage.vue'),
        meta: { tab: 'setup', needs: 'money' },
        props: true,
      },
      { path: '/sign-in', name: 'sign-in', component: () => import('./sheets/door/SignIn.vue'), meta: { open: true } },
      {
        path: '/new-book',
        name: 'new-book',
        component: () => import('./sheets/door/NewBook.vue'),
        meta: { open: true },
      },
      { path: '/:rest(.*)*', redirect: '/' },
    ],
  })
  router.beforeEach(async (to, from) => {
    const leads = to.path !== from.path || parts.some((part) => to.query[part] !== from.query[part])
    if (leads && !(await mayDiscard())) return false
    const session = useSession()
    await session.load()
    if (!session.book?.opened) return to.name === 'new-book' ? true : { name: 'new-book' }
    if (!session.who) return to.name === 'sign-in' ? true : { name: 'sign-in', query: { next: to.fullPath } }
    const home = homeOf(session.can)
    const tab = tabs.find((t) => t.name === to.meta.tab)
    const shown = !!tab && session.can(String(to.meta.needs ?? tab.needs)) && (to.path !== '/' || home === 'today')
    if (!shown) return to.name === home ? true : { name: home }
    return true
  })
  router.afterEach((to) => {
    const tab = tabs.find((t) => t.name === to.meta.tab)
    document.title = tab ? `${tab.label} · Jarvo` : 'Jarvo'
  })
  return router
}

import { useEventListener, useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, client, newKey, Refusal, wasLost } from '@/api/client'
import { useSession } from '@/book/session'
import { inTurn } from '@/book/turn'
import { clockHours, type ClockPage, type OwnPlace } from './own'

/** What was pressed at the clock and the book does not have yet. */
export interface Pressed {
  key: string
  step: 'in' | 'break' | 'out'
  /** The moment. */
  at: string
  place?: OwnPlace
  on?: boolean
  finish?: string
  /** It was sent before, and no answer came. */
  sent?: boolean
  /** Why the book refused it. */
  said?: string
}

const tryAgain = 5_000

/**
 * The clock's own outbox: what is pressed is kept on this phone until the book has it, over reload and restart, and sent in the order in
 * which it was pressed. What the book refuses stays, with the reason, until it is put away.
 */
export function useClockQueue(done: (page: ClockPage) => void, refused: (pressed: Pressed, why: Refusal) => boolean) {
  const session = useSession()
  const kept = `jarvo-clock-${session.book?.key}-${session.who?.name}`
  const stored = (): Pressed[] => {
    try {
      return JSON.parse(localStorage.getItem(kept) ?? '[]') as Pressed[]
    } catch {
      return []
    }
  }
  const items = ref(stored())
  function keep(now: Pressed[]) {
    items.value = now
    if (now.length) localStorage.setItem(kept, JSON.stringify(now))
    else localStorage.removeItem(kept)
  }
  const change = (key: string, how: Partial<Pressed>) =>
    keep(stored().map((i) => (i.key === key ? { ...i, ...how } : i)))
  const waiting = computed(() => items.value.filter((i) => !i.said))

  function call(i: Pressed): Promise<ClockPage> {
    const at = i.sent ? i.at : undefined // by the book's own clock where it is reached at once
    switch (i.step) {
      case 'in': {
        const { jobId, phaseId, costCodeId } = i.place!
        return answered(client.POST('/api/clock/in', { body: { key: i.key, jobId, phaseId, costCodeId, at } }))
      }
      case 'break':
        return answered(client.POST('/api/clock/break', { body: { on: !!i.on, at } }))
      default:
        return answered(client.POST('/api/clock/out', { body: { finish: i.finish, at } }))
    }
  }
  async function sendAll() {
    for (;;) {
      items.value = stored() // another window may have sent some
      const next = waiting.value[0]
      if (!next) return
      const before = items.value[items.value.indexOf(next) - 1]
      if (before?.said && next.step !== 'in') change(next.key, { said: 'what was pressed before it was refused' })
      else
        try {
          const answer = call(next)
          change(next.key, { sent: true })
          const page = await answer
          keep(stored().filter((i) => i.key !== next.key))
          done(page)
        } catch (error) {
          if (wasLost(error)) return
          if (refused(next, error as Refusal)) keep(stored().filter((i) => i.key !== next.key))
          else change(next.key, { said: (error as Refusal).message })
        }
    }
  }
  const busy = ref(false)
  async function send() {
    if (busy.value || !waiting.value.length) return
    busy.value = true
    try {
      await inTurn(kept, sendAll)
    } finally {
      busy.value = false
    }
  }
  function press(pressed: Pick<Pressed, 'step' | 'place' | 'on' | 'finish'>) {
    keep([...stored(), { ...pressed, key: newKey(), at: new Date().toISOString() }])
    return send()
  }
  useIntervalFn(() => void send(), tryAgain)
  useEventListener(window, 'online', () => void send())
  useEventListener(window, 'storage', () => (items.value = stored()))
  void send()
  return { items, waiting, busy, press, putAway: (key: string) => keep(stored().filter((i) => i.key !== key)) }
}

/** The minute of a moment on this phone's clock, after midnight. */
const minuteOf = (at: Date) => at.getHours() * 60 + at.getMinutes()
const names = { in: 'clock in', out: 'clock out' }

/** What was pressed, in words: "clock in at 7:02". */
export const inWordsOf = (i: Pressed) =>
  `${i.step === 'break' ? (i.on ? 'break' : 'back to work') : names[i.step]} at ${clockHours(minuteOf(new Date(i.at)))}`

/** Who works what since when, as it is once all that waits has been sent. */
export function workingAfter(working: ClockPage['working'], waiting: Pressed[], now: Date): ClockPage['working'] {
  for (const i of waiting) {
    const at = new Date(i.at)
    if (i.step === 'out') working = undefined
    else if (i.step === 'in')
      working = {
        date: new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 10),
        since: clockHours(minuteOf(at)),
        minutes: Math.max(0, Math.floor((now.getTime() - at.getTime()) / 60_000)),
        break: 0,
        onBreak: false,
        place: i.place!,
      }
    else if (working) working = { ...working, onBreak: !!i.on }
  }
  return working
}

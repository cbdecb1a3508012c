import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { Refusal, retryKey } from '@/api/client'
import { refresh, type Change } from '@/api/keys'
import { inWords } from '@/parts/figures'
import { useFooting } from './footing'

/**
 * One way to change something in the book: busy while it is under way, the sentences of a refusal by field, what stands
 * there now where somebody else was quicker, and all that the change makes stale looked at again. What is sent once more
 * for want of an answer has the key that it had, so that the book makes nothing twice.
 */
export function useAct(change: Change = 'everything') {
  const queries = useQueryClient()
  const footing = useFooting()
  const retry = retryKey()
  const busy = ref(false)
  const said = ref('')
  const wrong = ref<Record<string, string>>({})
  const current = ref<unknown>()

  function clear() {
    said.value = ''
    wrong.value = {}
    current.value = undefined
  }

  /** Does it; what is answered, or undefined where it was refused or is under way already. */
  async function act<T>(call: () => Promise<T>): Promise<T | undefined> {
    if (busy.value) return undefined
    busy.value = true
    clear()
    try {
      const answer = await call()
      footing.saved()
      void refresh(queries, change)
      return answer ?? (true as T)
    } catch (refused) {
      said.value = inWords((refused as Error).message)
      if (refused instanceof Refusal) {
        wrong.value = Object.fromEntries(Object.entries(refused.fields()).map(([path, why]) => [path, inWords(why)]))
        current.value = refused.problem.current
        if (refused.status === 409) void refresh(queries, change)
      }
      return undefined
    } finally {
      busy.value = false
    }
  }

  /** Adds something: sent once more, it is the same one. */
  async function once<B extends object, T>(body: B, send: (keyed: B & { key: string }) => Promise<T>) {
    const answer = await act(() => send({ ...body, key: retry.for(body) }))
    if (answer !== undefined) retry.done()
    return answer
  }

  return { busy, said, wrong, current, clear, act, once }
}

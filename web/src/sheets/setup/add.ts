import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { Refusal, retryKey } from '@/api/client'
import { useFooting } from '@/book/footing'

/** Sending a new record: busy while under way, the sentences of a refusal by field, everything fresh afterwards. */
export function useAdd() {
  const queries = useQueryClient()
  const footing = useFooting()
  const busy = ref(false)
  const said = ref('')
  const wrong = ref<Record<string, string>>({})

  async function add(call: () => Promise<unknown>): Promise<boolean> {
    busy.value = true
    said.value = ''
    wrong.value = {}
    try {
      await call()
      footing.saved()
      await queries.invalidateQueries()
      return true
    } catch (refused) {
      wrong.value = refused instanceof Refusal ? refused.fields() : {}
      said.value = (refused as Error).message
      return false
    } finally {
      busy.value = false
    }
  }
  /** Adds something: sent once more for want of an answer, it is the same one. */
  const retry = retryKey()
  async function once<B extends object>(body: B, send: (keyed: B & { key: string }) => Promise<unknown>) {
    const done = await add(() => send({ ...body, key: retry.for(body) }))
    if (done) retry.done()
    return done
  }
  return { busy, said, wrong, add, once }
}

import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { Refusal } from '@/api/client'
import { useFooting } from '@/shell/footing'

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
  return { busy, said, wrong, add }
}

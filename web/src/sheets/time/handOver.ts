import { useQueryClient } from '@tanstack/vue-query'
import { until } from '@vueuse/core'
import { ref, watch } from 'vue'
import { answered, client, Refusal } from '@/api/client'
import { refresh, show } from '@/api/keys'
import { useFooting } from '@/book/footing'
import { useHandIn } from '@/book/handIn'
import { useOutbox } from '@/book/outbox'
import type { CrewSheet } from './crewSheet'

/** How long what is typed last may be on its way before it is said that it is not saved, in ms. */
const mostWait = 8000

/** Hands a crew's week in, when all of it is saved; what came of it is said. */
export function useHandOver(sheet: CrewSheet, unsaved: () => boolean = () => false) {
  const footing = useFooting()
  const outbox = useOutbox()
  const queries = useQueryClient()
  const { asks, handIn } = useHandIn()
  const handing = ref(false)
  watch(sheet.query, () => (asks.value = ''))

  async function hand(): Promise<string> {
    handing.value = true
    try {
      if (outbox.items.some((i) => !i.said)) {
        void outbox.send()
        await until(() => outbox.items.every((i) => i.said)).toBe(true, { timeout: mostWait })
      }
      if (outbox.wrong.length) return 'Correct the marked cells first'
      if (outbox.items.length || unsaved()) return 'Not all of it is saved yet. Hand in when it is.'
      const query = sheet.query.value
      const mark = sheet.sheet.value?.mark ?? ''
      const answer = await handIn((ahead) =>
        answered(client.POST('/api/time/hand-in', { body: { ...query, mark, ahead } })),
      )
      if (answer.unread) void queries.invalidateQueries({ queryKey: ['time'] })
      else show(queries, ['time', query], answer)
      void refresh(queries, 'handIn')
      footing.saved()
      return 'Handed in'
    } catch (refused) {
      if (refused instanceof Refusal && refused.status === 409) void queries.invalidateQueries({ queryKey: ['time'] })
      return (refused as Error).message
    } finally {
      handing.value = false
    }
  }
  return { asks, handing, hand }
}

import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { useSession } from '@/book/session'
import type { Document } from './document'

/** A paper that shares nothing with another. */
export const copyOf = (d: Document) => JSON.parse(JSON.stringify(d)) as Document
type Named = Pick<Document, 'id' | 'key'>
const nameOf = (d: Named) => (d.id ? String(d.id) : `new ${d.key}`)

/** Papers as they were typed and not saved yet: kept on this machine for who typed them, until they are saved or dropped. */
export function useUnsaved() {
  const session = useSession()
  const papers = useLocalStorage<Record<string, Document>>(`papers|${session.book?.key}|${session.who?.name}`, {})
  /** Those that the book knows nothing of yet, the last one first. */
  const fresh = computed(() =>
    Object.values(papers.value)
      .filter((d) => !d.id)
      .reverse(),
  )
  const of = (d: Named): Document | undefined => papers.value[nameOf(d)]
  function keep(d: Document) {
    papers.value = { ...papers.value, [nameOf(d)]: copyOf(d) }
  }
  function forget(d: Named) {
    papers.value = Object.fromEntries(Object.entries(papers.value).filter(([name]) => name !== nameOf(d)))
  }
  return { fresh, of, keep, forget }
}

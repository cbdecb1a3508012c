import { useQueryClient } from '@tanstack/vue-query'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useUndo } from '@/book/undo'
import type { Part, Typed } from './parts'

type View = Schema['InvoiceView']
export type Head = Omit<Schema['DraftHead'], 'version'>

type Work = Schema['WorkRef']

/** A change of a draft: what is sent, and what is sent to take it back. */
export interface Change {
  what: string
  send: () => Promise<View>
  back: () => Promise<View>
}

/**
 * What can be changed on a draft, each on the version that is shown, also where it is taken back: how much of its work is billed, what is
 * typed on it, what stands around its lines, and what is applied to it of deposits. Until it is issued all of it can be undone.
 */
export function useDraft(invoice: () => View) {
  const queries = useQueryClient()
  const undo = useUndo()
  const doing = useAct('invoices')
  const latest = () => queries.getQueryData<View>(['invoice', invoice().id]) ?? invoice()
  const on = () => ({ params: { path: { id: invoice().id } } })
  const version = () => latest().version

  const parts = (parts: Part[], together = '') =>
    answered(
      client.PUT('/api/invoices/{id}/parts', {
        ...on(),
        body: { version: version(), parts, ...(together && { together }) },
      }),
    )
  const lines = (lines: Typed[]) =>
    answered(client.PUT('/api/invoices/{id}/lines', { ...on(), body: { version: version(), lines } }))
  const head = (head: Head) =>
    answered(client.PUT('/api/invoices/{id}/head', { ...on(), body: { version: version(), ...head } }))

  const deposit = (id: number, amount: string) =>
    answered(
      client.PUT('/api/invoices/{id}/deposits', { ...on(), body: { version: version(), deposits: [{ id, amount }] } }),
    )

  const seen = (id: number) => ({ id, version: queries.getQueryData<View>(['invoice', id])!.version })
  /** Moves work from one draft to another, or onto one of its own; both are shown as they have become. */
  async function moved(from: number, sources: Work[], to?: { id: number; version: number }) {
    const { version } = seen(from)
    const both = await answered(
      client.POST('/api/invoices/{id}/move', { params: { path: { id: from } }, body: { version, to, sources } }),
    )
    show(both.from)
    show(both.to)
    return both
  }
  /** Moves work from this draft, remembered with how it comes back. */
  async function move(sources: Work[], to?: { id: number; version: number }) {
    const id = invoice().id
    let last: View
    const send = async () => {
      const both = await moved(id, sources, to && (last ? seen(to.id) : to))
      last = both.to
      return both.from
    }
    const back = async () =>
      to
        ? (await moved(to.id, sources, seen(id))).to
        : answered(
            client.POST('/api/invoices/{id}/join', { ...on(), body: { version: version(), drafts: [seen(last.id)] } }),
          )
    return { view: await send(), send, back }
  }

  const show = (view: View) => queries.setQueryData(['invoice', view.id], view)
  async function run(send: () => Promise<View>) {
    const view = await doing.act(send)
    if (view) show(view)
    return view
  }
  /** Shows a draft as it has become, and remembers how that is taken back. */
  function did(view: View, { what, send, back }: Change) {
    show(view)
    undo.did({ what, undo: () => void run(back), redo: () => void run(send) })
  }
  return { ...doing, latest, parts, lines, head, deposit, move, did }
}

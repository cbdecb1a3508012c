import { useQueryClient } from '@tanstack/vue-query'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useUndo } from '@/book/undo'
import type { Part, Typed } from './parts'

type View = Schema['InvoiceView']
export type Head = Omit<Schema['DraftHead'], 'version'>

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

  const parts = (parts: Part[]) =>
    answered(client.PUT('/api/invoices/{id}/parts', { ...on(), body: { version: version(), parts } }))
  const lines = (lines: Typed[]) =>
    answered(client.PUT('/api/invoices/{id}/lines', { ...on(), body: { version: version(), lines } }))
  const head = (head: Head) =>
    answered(client.PUT('/api/invoices/{id}/head', { ...on(), body: { version: version(), ...head } }))

  const deposit = (id: number, amount: string) =>
    answered(
      client.PUT('/api/invoices/{id}/deposits', { ...on(), body: { version: version(), deposits: [{ id, amount }] } }),
    )

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
  return { ...doing, latest, parts, lines, head, deposit, did }
}

import type { Schema } from '@/api/client'

type Slip = Schema['Slip']

/** What of a statement is sure, and can be recorded in one step. */
export const sureOf = (bank?: Schema['BankSheet']) => (bank?.slips ?? []).filter((s) => s.sure)

/** Whose a receipt is and which invoices it pays, in words. */
export function pays(s: Slip): string {
  if (!s.customer) return ''
  const of = s.numbers?.length ? `${s.customer}: ${s.numbers.join(', ')}` : s.customer
  if (s.stays) return `${of}, in part`
  return s.over ? `${of}, and credit` : of
}

/** A text in pieces, with the words marked that gave away what it pays. */
export function pieces(text: string, words?: string[] | null): { text: string; gave: boolean }[] {
  const named = new Set(words ?? [])
  return text.split(/([^\p{L}\p{N}-]+)/u).reduce<{ text: string; gave: boolean }[]>((out, piece) => {
    const last = out.at(-1)
    if (last && !last.gave && !named.has(piece)) last.text += piece
    else if (piece) out.push({ text: piece, gave: named.has(piece) })
    return out
  }, [])
}

/** A receipt that is recorded as it is proposed. */
export const takenAs = ({ id, customerId, on, paymentId }: Slip): Schema['TakenSlip'] => ({
  id,
  customerId,
  on,
  paymentId,
})

/** A file as the book takes it. */
export async function base64(file: Blob): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer())
  let text = ''
  for (let at = 0; at < bytes.length; at += 0x8000) text += String.fromCharCode(...bytes.subarray(at, at + 0x8000))
  return btoa(text)
}

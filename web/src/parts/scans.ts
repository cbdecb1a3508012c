import { Refusal, windowName, type Schema } from '@/api/client'

export type Scan = Schema['Attachment']

/** Where a scan is read from; a kept one is saved and not shown. */
export const scanAddress = (scan: Scan, keep = false) => `/api/attachments/${scan.id}${keep ? '?keep=yes' : ''}`

/** Sends a file as a scan of a paper; the server judges it by what is in it. */
export async function sendScan(documentId: number, file: File): Promise<Scan> {
  const answer = await fetch(`/api/costs/${documentId}/attachments?name=${encodeURIComponent(file.name)}`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream', 'x-window': windowName },
    body: file,
  }).catch(() => undefined)
  const body = await answer?.json()
  if (answer?.ok) return body
  throw new Refusal({
    title: 'Not attached',
    status: answer?.status ?? 0,
    detail: body?.errors?.[0]?.message ?? body?.detail ?? 'there is no connection to the book; attach it again later',
  })
}

import type { QueryClient } from '@tanstack/vue-query'
import { answered, client, type Schema } from '@/api/client'

type Sheet = Schema['Sheet']

/** A crew sheet with the lines of some workers read again, and the totals of all of it. */
export function withPart(sheet: Sheet | undefined, part: Sheet): Sheet | undefined {
  if (!part.part?.length) return part
  if (!sheet) return undefined
  const again = new Set(part.part)
  const lines = [...(sheet.lines ?? []).filter((l) => !again.has(l.worker.id)), ...(part.lines ?? [])]
  const rank = (l: Schema['SheetLine']) => [l.worker.name, l.worker.id] as const
  lines.sort((a, b) => {
    const [x, y] = [rank(a), rank(b)]
    if (x[0] !== y[0]) return x[0] < y[0] ? -1 : 1
    return x[1] - y[1]
  })
  return { ...part, lines, members: sheet.members, crews: sheet.crews, part: undefined }
}

/** Reads the lines of some workers again in the crew sheets that are looked at. */
export async function readAgain(queries: QueryClient, workers: number[]) {
  for (const query of queries.getQueryCache().findAll({ queryKey: ['time'], type: 'active' })) {
    const asked = query.queryKey[1] as { week: string; crew: string; job: string }
    try {
      const part = await answered(client.GET('/api/time/sheet', { params: { query: { ...asked, workers } } }))
      queries.setQueryData<Sheet>(query.queryKey, (had) => withPart(had, part))
    } catch {
      void queries.invalidateQueries({ queryKey: query.queryKey })
    }
  }
}

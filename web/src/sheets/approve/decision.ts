import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useUndo } from '@/book/undo'

export type Verdict = '/api/approve' | '/api/return'
const names = { '/api/approve': 'approved', '/api/return': 'returned' }

/** Approves work or returns it. It can be undone as long as nothing else has happened to the work, and be done again. */
export function useDecision() {
  const undo = useUndo()
  const { busy, said, act } = useAct('everything')

  /** Decides on work at the versions that were seen; what names it, for who undoes it. */
  async function decide(verdict: Verdict, body: Schema['Decision'], what: string): Promise<boolean> {
    const send = (path: Verdict | '/api/take-back', work?: Schema['Decision']) =>
      act(() => answered(client.POST(path, { body: { ...work, reason: body.reason } as Schema['Decision'] })))
    let work = await send(verdict, body)
    if (!work) return false
    const turn = async (path: Verdict | '/api/take-back') => {
      const now = await send(path, work)
      work = now ?? work
      return now ? undefined : said.value
    }
    undo.did({
      what: `${what} ${names[verdict]}`,
      undo: () => turn('/api/take-back'),
      redo: () => turn(verdict),
    })
    return true
  }
  return { busy, said, decide }
}

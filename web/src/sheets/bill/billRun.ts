import { ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'

type Asked = Omit<Schema['NewDrafts'], 'jobs' | 'key'>

/** Makes drafts of jobs, those of a customer in one step, and says how far it has come. What was made stays where a step is refused. */
export function useBillRun() {
  const doing = useAct('everything')
  const done = ref(0)
  const of = ref(0)
  async function make(rows: { jobId: number; customer: string }[], asked: Asked) {
    const customers = [...new Set(rows.map((r) => r.customer))]
    const made = { jobs: [] as number[], last: '', all: false }
    done.value = 0
    of.value = customers.length
    for (const customer of customers) {
      const jobs = [...new Set(rows.filter((r) => r.customer === customer).map((r) => r.jobId))]
      const drafts = await doing.once({ ...asked, jobs }, (body) => answered(client.POST('/api/bill/drafts', { body })))
      if (!drafts) break
      made.jobs.push(...jobs)
      made.last = String(drafts.at(-1)?.id ?? made.last)
      done.value++
    }
    made.all = made.jobs.length > 0 && done.value === of.value
    of.value = 0
    return made
  }
  return { ...doing, done, of, make }
}

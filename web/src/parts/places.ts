import { computed } from 'vue'
import type { Schema } from '@/api/client'
import type { PickItem } from './Pick.vue'

/** What a line's job, phase and cost code are chosen from: what was used last comes first. */
export function usePlaces(choices: () => Schema['Choices'] | undefined) {
  function recentFirst<T extends { id: number }>(items: T[], recent: number[] | null | undefined): T[] {
    const rank = new Map((recent ?? []).map((id, i) => [id, i]))
    return [...items].sort((a, b) => (rank.get(a.id) ?? 1e6) - (rank.get(b.id) ?? 1e6))
  }
  const jobs = computed<PickItem[]>(() =>
    recentFirst(choices()?.jobs ?? [], choices()?.recent.jobs).map((j) => ({
      id: j.id,
      title: `${j.number} ${j.name}`,
      sub: j.customer || 'own',
      retired: j.status === 'closed',
    })),
  )
  const phases = (job?: number) =>
    recentFirst(choices()?.phases ?? [], choices()?.recent.phases)
      .filter((p) => p.jobId === job)
      .map((p) => ({ id: p.id, title: p.name || p.code, sub: p.code }))
  const codes = computed<PickItem[]>(() =>
    recentFirst(choices()?.costCodes ?? [], choices()?.recent.costCodes).map((c) => ({
      id: c.id,
      title: `${c.code} ${c.name}`,
      retired: c.retired,
    })),
  )
  function place(jobId?: number, phaseId?: number, codeId?: number) {
    const job = choices()?.jobs?.find((j) => j.id === jobId)
    if (!job) return undefined
    const phase = choices()?.phases?.find((p) => p.id === phaseId && p.jobId === jobId)
    return {
      job: { id: job.id, code: job.number, name: job.name },
      phase: phase && { id: phase.id, code: phase.code, name: phase.name },
      costCode: choices()?.costCodes?.find((c) => c.id === codeId),
    }
  }
  return { jobs, phases, codes, place }
}

/** The stages of a job, in their order, as people call them. */
export const stageNames: Record<string, string> = {
  live: 'Working',
  finished: 'Finishing',
  paused: 'Paused',
  quoting: 'Not started',
  closed: 'Closed',
}

/** What is agreed of a job is its price where that is fixed, and a limit where it is billed by time and materials. */
export const contractOf = (basis: string) => (basis === 'tm' ? 'Limit, not to exceed' : 'Contract')

/** The stages of a job, in their order, as people call them. */
export const stageNames: Record<string, string> = {
  live: 'Working',
  finished: 'Finishing',
  paused: 'Paused',
  quoting: 'Not started',
  closed: 'Closed',
}

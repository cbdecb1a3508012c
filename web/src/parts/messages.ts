import type { Schema } from '@/api/client'

type Status = Schema['MessageRow']['status']

/** What became of a message, before the moment of it. */
export const outcome = (status: Status): string =>
  ({
    queued: 'waits since',
    sending: 'is being sent',
    sent: 'sent',
    failed: 'failed',
    cancelled: 'cancelled',
  })[status]

/** The names of the three reminders. */
export const stages = ['', 'First', 'Second', 'Third'] as const
export const tones = ['', 'friendly', 'asks for a day', 'within seven days'] as const

/** A reminder as it is sent: as it was proposed, with what was changed in it. */
export type Edit = Partial<Pick<Schema['Reminder'], 'to' | 'subject' | 'body'>>
export function asSent(r: Schema['Reminder'], edit: Edit = {}): Schema['NewReminder'] {
  return {
    customerId: r.customerId,
    stage: r.stage,
    amount: r.amount,
    to: edit.to ?? r.to,
    subject: edit.subject ?? r.subject,
    body: edit.body ?? r.body,
    keep: edit.to !== undefined && edit.to !== r.to && !r.to,
  }
}

/** Who is reminded without further ado: something is new at its stage, and there is somebody to write to. */
export const proposed = (reminders: Schema['Reminder'][]): number[] =>
  reminders.filter((r) => r.proposed && r.to).map((r) => r.customerId)

/**
 * Who is ticked once the list has been read again: what a person ticked stays, as long as what is proposed of it is the same; of what is
 * new, or proposed in another way, what is proposed.
 */
export function tickedNow(
  now: Schema['Reminder'][],
  had: Schema['Reminder'][] | undefined,
  ticked: (string | number)[],
): number[] {
  const before = new Map((had ?? []).map((r) => [r.customerId, r]))
  const fresh = proposed(now)
  return now
    .filter((r) => {
      const was = before.get(r.customerId)
      return (was && !differs(was, r) ? ticked : fresh).includes(r.customerId)
    })
    .map((r) => r.customerId)
}

/** A reminder is not what it was: what was changed in the one before says what no longer holds. */
export const differs = (a: Schema['Reminder'], b: Schema['Reminder']): boolean =>
  a.to !== b.to ||
  a.stage !== b.stage ||
  a.amount !== b.amount ||
  a.proposed !== b.proposed ||
  a.body !== b.body ||
  a.subject !== b.subject

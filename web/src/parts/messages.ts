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

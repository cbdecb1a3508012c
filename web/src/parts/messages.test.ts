import { expect, test } from 'vitest'
import type { Schema } from '@/api/client'
import { asSent, proposed, tickedNow } from './messages'

const reminder = (changed: Partial<Schema['Reminder']> = {}): Schema['Reminder'] => ({
  customerId: 7,
  customer: 'Heron Cove Marina',
  to: 'pay@heron.example',
  stage: 2,
  daysLate: 20,
  invoices: [],
  amount: '60.00',
  proposed: true,
  subject: 'Second reminder',
  body: 'Dear Heron',
  ...changed,
})

test('who has had this reminder, or has no address, is not reminded without being asked for', () => {
  const all = [reminder(), reminder({ customerId: 8, proposed: false }), reminder({ customerId: 9, to: '' })]
  expect(proposed(all)).toEqual([7])
})

test('a reminder is sent as it was seen, with what was changed in it', () => {
  expect(asSent(reminder(), { body: 'Dear Ana' })).toEqual({
    customerId: 7,
    stage: 2,
    amount: '60.00',
    to: 'pay@heron.example',
    subject: 'Second reminder',
    body: 'Dear Ana',
    keep: false,
  })
})

test('an address is kept for a customer who had none, and not where another is written to once', () => {
  expect(asSent(reminder({ to: '' }), { to: 'new@heron.example' }).keep).toBe(true)
  expect(asSent(reminder(), { to: 'once@heron.example' }).keep).toBe(false)
})

test('a tick that was taken away stays away when the list is read again, until the reminder is another', () => {
  const [a, b] = [reminder(), reminder({ customerId: 8 })]
  expect(tickedNow([a, b], undefined, [])).toEqual([7, 8])
  expect(tickedNow([a, b], [a, b], [8])).toEqual([8])
  expect(tickedNow([reminder({ amount: '50.00' }), b], [a, b], [8])).toEqual([7, 8])
  expect(tickedNow([reminder({ proposed: false }), b], [a, b], [7, 8])).toEqual([8])
  expect(tickedNow([b], [a, b], [7])).toEqual([])
})

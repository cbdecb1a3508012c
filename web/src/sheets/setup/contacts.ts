import type { Schema } from '@/api/client'

/** A person of a customer who gets nothing yet. */
export const contact = (): Schema['Contact'] => ({
  name: '',
  role: '',
  email: '',
  invoices: false,
  statements: false,
  reminders: false,
})

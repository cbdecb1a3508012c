import type { Schema } from '@/api/client'

/** Something that has a place in a tab: what it is, and which one. */
export type Link = { kind: Schema['Link']['kind'] | Kept; id?: string | number; crew?: string }

/** Records that figures rest on, beside those that the server links to. */
type Kept = 'burden' | 'tax_code' | 'time_entry' | (string & {})

/** The address at which something is seen, and settled where that is to be done. */
export function addressOf({ kind, id = '', crew = '' }: Link): string {
  const key = encodeURIComponent(id)
  switch (kind) {
    case 'crew_week':
      return `/time?crew=${encodeURIComponent(crew)}&from=${key}`
    case 'job':
      return `/jobs/${key}`
    case 'budget':
      return `/jobs/${key}?change=budget`
    case 'terms':
      return `/jobs/${key}?change=job`
    case 'ready':
      return `/bill?job=${key}`
    case 'wage':
      return '/setup?part=workers'
    case 'labour_rate':
      return '/setup?part=rates'
    case 'burden':
      return '/setup?part=burden'
    case 'markup':
      return '/setup?part=markups'
    case 'tax_code':
      return '/setup?part=codes'
    case 'cost_document':
      return `/costs?span=all&open=${key}`
    case 'owed':
      return '/costs?list=owed'
    case 'approve':
      return '/approve'
    case 'crew':
      return `/time?crew=${encodeURIComponent(crew)}`
    case 'invoice':
      return `/bill?list=issued&span=all&open=${key}`
    case 'payments':
      return '/bill?list=payments&span=all'
    case 'message':
      return `/bill?list=messages&open=${key}`
    case 'draft':
      return `/bill?list=drafts&span=all&open=${key}`
    case 'supplier':
    case 'worker':
    case 'customer':
    case 'item':
      return `/page/${kind}/${key}`
    case 'user':
      return `/setup?part=people&find=${key}`
    case 'time_entry':
      return '/time'
    default:
      return '/jobs'
  }
}

/** The parts of Setup, as they are called. */
export const setupParts = [
  ['workers', 'workers, wages'],
  ['burden', 'burden'],
  ['rates', 'rate cards'],
  ['markups', 'markups'],
  ['prices', 'price list'],
  ['suppliers', 'suppliers'],
  ['customers', 'customers'],
  ['codes', 'codes, units, taxes'],
  ['people', 'users'],
  ['company', 'company'],
  ['data', 'in and out'],
] as const

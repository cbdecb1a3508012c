import type { useScope } from '@/book/scope'

export type View = 'week' | 'day' | 'list' | 'import'

/** How the hours are looked at: as a list or a table to bring in where it is asked for, by day where When is a day, by week otherwise. */
export function viewOf(scope: ReturnType<typeof useScope>): View {
  const asked = scope.text('view')
  if (asked === 'list' || asked === 'import') return asked
  return scope.span.value === 'day' ? 'day' : 'week'
}

/** The part of the address that asks for a view. */
export function addressOf(view: View, span: string) {
  if (view === 'list') return { view: 'list', span: span === 'day' ? '' : span }
  return { view: '', span: view === 'day' ? 'day' : '' }
}

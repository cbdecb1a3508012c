import { local } from './english'
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { percent } from '@/parts/figures'
import type { FootingFigure } from './footing'
import type { useScope } from './scope'

/** A margin in the Footing; where a part of it is not measured, that is said in its place. */
export const marginOf = (of: { margin?: string; unmeasured?: boolean }): FootingFigure => ({
  label: 'Margin',
  value: of.unmeasured ? 'not measured' : percent(of.margin) || 'none',
  asIs: true,
})
type Sums = Schema['Footing'] & { change?: Schema['Footing'] }

/** Hours and money as the Footing shows them, with what an edit changed; the margin is of what is charged. */
export function moneyOf(f: Sums, reasons?: Schema['UnchargedRow'][] | null): FootingFigure[] {
  const of = (label: string, value?: string, change?: string) => ({ label, value: value ?? '', change })
  const hours = of('Hours', f.hours, f.change?.hours === '0.00' ? undefined : f.change?.hours)
  if (f.cost === undefined) return [hours]
  const shown: FootingFigure[] = [
    hours,
    of(local('Labour'), f.labour, f.change?.labour),
    of('Other', f.other, f.change?.other),
    of('Cost', f.cost, f.change?.cost),
    of('Charge', f.charge, f.change?.charge),
    marginOf(f),
  ]
  if (f.uncharged)
    shown.push({
      ...of('Not charged, cost', f.uncharged),
      of: reasons?.map((r) => ({ label: r.reason, value: r.cost })),
    })
  return shown
}

/** The hours and the money of Where and When; the cost of what has no charge stands apart, by the reason why it has none. */
export function useMoney(scope: ReturnType<typeof useScope>) {
  const query = () => ({ params: { query: scope.query.value } })
  const { data: sums } = useQuery({
    queryKey: ['footing', scope.query],
    queryFn: () => answered(client.GET('/api/footing', query())),
  })
  const { data: reasons } = useQuery({
    queryKey: ['footing', 'uncharged', scope.query],
    queryFn: () => answered(client.GET('/api/footing/uncharged', query())),
    enabled: () => !!sums.value?.uncharged,
  })
  const figures = computed(() => (sums.value ? moneyOf(sums.value, reasons.value) : []))
  return { sums, figures }
}

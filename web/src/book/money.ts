import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client } from '@/api/client'
import type { FootingFigure } from './footing'
import type { useScope } from './scope'

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
  const figures = computed<FootingFigure[]>(() => {
    const f = sums.value
    if (!f) return []
    const hours = { label: 'Hours', value: f.hours }
    if (f.cost === undefined) return [hours]
    const shown: FootingFigure[] = [
      hours,
      { label: 'Labour', value: f.labour ?? '' },
      { label: 'Other', value: f.other ?? '' },
      { label: 'Cost', value: f.cost },
      { label: 'Charge', value: f.charge ?? '' },
      { label: 'Margin', value: f.margin ? `${f.margin} %` : '' },
    ]
    if (f.uncharged)
      shown.push({
        label: 'Cost without a charge',
        value: f.uncharged,
        of: reasons.value?.map((r) => ({ label: r.reason, value: r.cost })),
      })
    return shown
  })
  return { sums, figures }
}

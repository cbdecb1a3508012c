import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import type { Line } from './document'

export type Item = Schema['PricedItem']

/** Whose cost is our own rate by date, and not what a paper says. */
export const ownRates = ['equipment', 'mileage']

/** The price list at a date, as it is offered while typing. */
export function usePriceList(on: () => string) {
  const { data } = useQuery({
    queryKey: ['prices', on],
    queryFn: () => answered(client.GET('/api/prices', { params: { query: { on: on() } } })),
    enabled: () => /^\d{4}-\d\d-\d\d$/.test(on()),
    placeholderData: (before) => before,
  })
  const offered = computed(() => (data.value ?? []).filter((i) => i.active))

  /** A line whose text is an item's code or description becomes that item; its cost and price are then the list's. */
  function take(line: Line, text = line.description): void {
    const said = text.trim().toLowerCase()
    const item =
      offered.value.find((i) => i.code.toLowerCase() === said) ??
      offered.value.find((i) => i.description.toLowerCase() === said)
    if (item && item.id !== line.itemId)
      Object.assign(line, {
        itemId: item.id,
        description: item.description,
        category: item.category,
        unit: item.unit,
        unitCost: '',
        sellPrice: '',
        markup: '',
      })
    const had = data.value?.find((i) => i.id === line.itemId)
    if (had && !said.startsWith(had.description.toLowerCase()) && !item) line.itemId = undefined
  }
  /** The only item of a category, if there is just one: what a mileage log starts with. */
  const only = (category: string) => {
    const all = offered.value.filter((i) => i.category === category)
    return all.length === 1 ? all[0] : undefined
  }
  return { offered, take, only }
}

import { defaultRangeExtractor, useVirtualizer, type Range } from '@tanstack/vue-virtual'
import { useEventListener } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'

/** From how many rows on only those in sight are drawn. */
const many = 100

/**
 * Which rows of many are drawn: all of few and of what is printed, else those in sight and the one in hand, which keeps the
 * focus; with the room, in pixels, that those before each of them take, and those after the last. The height of a row is at the
 * usual size of type.
 */
export function useDrawn(
  scroller: Ref<HTMLElement | undefined>,
  count: () => number,
  height: number,
  inHand: () => number = () => -1,
) {
  const printing = ref(false)
  const scale = Number.parseFloat(getComputedStyle(document.documentElement).fontSize) / 16 || 1
  useEventListener(window, 'beforeprint', () => (printing.value = true))
  useEventListener(window, 'afterprint', () => (printing.value = false))
  const virtual = computed(() => count() > many && !printing.value)
  const virtualizer = useVirtualizer(
    computed(() => {
      const kept = inHand()
      return {
        count: virtual.value ? count() : 0,
        getScrollElement: () => scroller.value ?? null,
        estimateSize: () => height * scale,
        overscan: 12,
        rangeExtractor: (range: Range) => {
          const seen = defaultRangeExtractor(range)
          return kept < 0 || kept >= range.count || seen.includes(kept) ? seen : [...seen, kept].sort((a, b) => a - b)
        },
      }
    }),
  )
  const items = computed(() => virtualizer.value.getVirtualItems())
  const rows = computed(() =>
    virtual.value
      ? items.value.map((v, i) => ({ index: v.index, gap: v.start - (items.value[i - 1]?.end ?? 0) }))
      : Array.from({ length: count() }, (_, index) => ({ index, gap: 0 })),
  )
  const below = computed(() => {
    const last = items.value.at(-1)
    return virtual.value && last ? virtualizer.value.getTotalSize() - last.end : 0
  })
  function reveal(row: number) {
    if (virtual.value) virtualizer.value.scrollToIndex(row)
  }
  return { rows, below, reveal }
}

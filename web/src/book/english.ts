import { computed, shallowRef } from 'vue'
import type { Schema } from '@/api/client'

const english = shallowRef<Schema['English']>({ terms: '{days} days' })
/** Writes as the company does from now on. */
export const writeAs = (now: Schema['English']) => (english.value = now)

/** The words that the company writes otherwise, the longest first. */
const otherwise = computed(() => {
  const words = Object.keys(english.value.words ?? {}).sort((a, b) => b.length - a.length)
  return words.length ? new RegExp(`\\b(${words.join('|')})\\b`, 'gi') : undefined
})

/** A text of the application's own in the company's English. It is not for what a person has typed. */
export function local(text: string): string {
  if (!otherwise.value) return text
  return text.replace(otherwise.value, (word) => {
    const its = english.value.words![word.toLowerCase()]!
    return word[0] === word[0]!.toUpperCase() ? its.charAt(0).toUpperCase() + its.slice(1) : its
  })
}

/** How the days until an invoice is due are written. */
export const terms = (days: string | number) => english.value.terms.replace('{days}', String(days))

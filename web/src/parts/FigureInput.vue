<script setup lang="ts">
import { ref, watch } from 'vue'
import { figure } from './figures'
import { alsoRead, readNumber } from './reading'

/** A number typed and shown in the person's way of writing; the value is the book's decimal, or what was typed where it is none. */
const value = defineModel<string | undefined>({ required: true })
/** Tells what else the typed number could be meant as, as a decimal; nothing where there is no doubt. */
const emit = defineEmits<{ doubt: [other?: string] }>()
const shown = ref('')
const shownOf = (plain = '') => (readNumber(plain, 'en') === plain ? figure(plain) : plain)
let mine: string | undefined
let doubted = false
watch(
  value,
  (plain) => {
    if (plain !== mine && doubted) doubt(undefined) // another number stands there: nothing is to be asked of it
    if (plain !== mine || !shown.value) shown.value = shownOf(plain)
  },
  { immediate: true },
)
function doubt(other?: string) {
  doubted = !!other
  emit('doubt', other)
}
function typed(text: string) {
  shown.value = text
  mine = text.trim() ? (readNumber(text) ?? text) : ''
  value.value = mine
  doubt(alsoRead(text))
}
</script>

<template>
  <input
    :value="shown"
    class="num"
    inputmode="decimal"
    autocomplete="off"
    @input="typed(($event.target as HTMLInputElement).value)"
    @change="shown = shownOf(value)"
  />
</template>

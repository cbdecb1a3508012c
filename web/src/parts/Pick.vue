<script setup lang="ts">
import { computed } from 'vue'

/** A record chosen by typing part of its number or name. */
export interface PickItem {
  id: number
  title: string
  sub?: string
  /** Shown where it is chosen already, and not offered. */
  retired?: boolean
}
const props = defineProps<{
  label: string
  items: PickItem[]
  said?: string
  hideLabel?: boolean
  placeholder?: string
  disabled?: boolean
}>()
const value = defineModel<number | undefined>({ required: true })
const items = computed(() =>
  props.items
    .filter((i) => !i.retired || i.id === value.value)
    .map((i) => ({ value: i.id, title: i.title, props: { subtitle: i.sub } })),
)
function match(_: string, query: string, item?: { raw: { title: string; props: { subtitle?: string } } }) {
  const text = `${item?.raw.title} ${item?.raw.props.subtitle ?? ''}`.toLowerCase()
  return query
    .toLowerCase()
    .split(/\s+/)
    .every((w) => text.includes(w))
}
</script>

<template>
  <!-- Enter takes what is marked in the list; it does not send the form around it. -->
  <div class="field" :class="{ wrong: said }" @keypress.enter.prevent>
    <span v-if="!hideLabel" aria-hidden="true">{{ label }}</span>
    <v-autocomplete
      v-model="value"
      :items="items"
      :custom-filter="match"
      :aria-label="label"
      :placeholder="placeholder"
      :disabled="disabled"
      :error="!!said"
    />
    <span v-if="said" class="said" role="alert">{{ said }}</span>
  </div>
</template>

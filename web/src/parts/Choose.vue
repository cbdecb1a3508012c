<script setup lang="ts">
import { useId } from 'vue'

/** A field with a few values to choose from. */
defineProps<{ label: string; said?: string; options: readonly (readonly [string, string])[] }>()
const value = defineModel<string>({ required: true })
const id = useId()
</script>

<template>
  <label class="field" :class="{ wrong: said }">
    {{ label }}
    <select v-model="value" :aria-invalid="!!said" :aria-describedby="said ? `${id}-said` : undefined">
      <option v-for="[v, text] in options" :key="v" :value="v">{{ text }}</option>
    </select>
    <span v-if="said" :id="`${id}-said`" class="said">{{ said }}</span>
  </label>
</template>

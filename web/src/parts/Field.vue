<script setup lang="ts">
import { useId } from 'vue'

/** A field to write on, with its label above and the sentence about what is wrong below. */
defineProps<{
  label: string
  said?: string
  type?: string
  num?: boolean
  hint?: string
  list?: string[]
  autocomplete?: string
}>()
const value = defineModel<string>({ required: true })
const id = useId()
</script>

<template>
  <label class="field" :class="{ wrong: said }">
    {{ label }}
    <input
      v-model="value"
      :type="type ?? 'text'"
      :class="{ num }"
      :placeholder="hint"
      :autocomplete="autocomplete ?? 'off'"
      :list="list ? `${id}-list` : undefined"
      :aria-invalid="!!said"
      :aria-describedby="said ? `${id}-said` : undefined"
    />
    <datalist v-if="list" :id="`${id}-list`"><option v-for="o in list" :key="o" :value="o" /></datalist>
    <span v-if="said" :id="`${id}-said`" class="said">{{ said }}</span>
  </label>
</template>

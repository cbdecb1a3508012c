<script setup lang="ts">
import { nextTick, ref } from 'vue'

/** A button for what can't be undone: it says so in place, and does it when it is pressed once more. */
defineProps<{ label: string; sure: string; busy?: boolean; small?: boolean; go?: boolean; disabled?: boolean }>()
const emit = defineEmits<{ sure: [] }>()
const asks = ref(false)
const button = ref<HTMLElement>()
async function leave() {
  asks.value = false
  await nextTick()
  button.value?.querySelector('button')?.focus()
}
function yes() {
  asks.value = false
  emit('sure')
}
</script>

<template>
  <span ref="button" class="sure" @keydown.esc.stop="leave">
    <template v-if="asks">
      <span role="alert">{{ sure }}</span>
      <v-btn :class="[go ? 'go' : 'warn', { small }]" autofocus @click="yes">{{ label }}</v-btn>
      <v-btn :class="{ small }" @click="leave">Cancel</v-btn>
    </template>
    <v-btn v-else :class="{ small, go }" :loading="busy" :disabled="disabled" @click="asks = true">{{ label }}</v-btn>
  </span>
</template>

<style scoped>
.sure {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
</style>

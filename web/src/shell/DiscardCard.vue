<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref } from 'vue'

/** The question before what was typed is discarded. */
defineProps<{ decide: (discard: boolean) => void }>()
const card = ref<HTMLElement>()
const before = document.activeElement as HTMLElement | null
onMounted(() => card.value?.querySelector('button')?.focus())
onBeforeUnmount(() => before?.focus())
/** The focus stays on the two answers. */
function turn(event: KeyboardEvent) {
  const stops = [...card.value!.querySelectorAll('button')]
  event.preventDefault()
  stops[stops.indexOf(document.activeElement as HTMLButtonElement) ? 0 : 1]?.focus()
}
</script>

<template>
  <div class="veil">
    <div
      ref="card"
      class="card"
      role="alertdialog"
      aria-modal="true"
      aria-labelledby="discard-title"
      aria-describedby="discard-why"
      @keydown.esc.stop="decide(false)"
      @keydown.tab="turn"
    >
      <h2 id="discard-title">What you typed is not saved</h2>
      <p id="discard-why">Stay to save it, or discard it and go on.</p>
      <p class="acts">
        <v-btn class="go" @click="decide(false)">Stay</v-btn>
        <v-btn class="warn" @click="decide(true)">Discard</v-btn>
      </p>
    </div>
  </div>
</template>

<style scoped>
.card {
  width: 24rem;
  padding: 14px 16px;
}
h2 {
  font-size: 1.25rem;
  font-weight: 680;
  padding-bottom: 4px;
}
.acts {
  display: flex;
  gap: 8px;
  padding-top: 12px;
}
</style>

<script setup lang="ts">
/** An icon of @mdi/js; it always stands beside a label, so it is hidden from screen readers. */
withDefaults(defineProps<{ path: string; size?: number }>(), { size: 16 })
</script>

<template>
  <svg :width="size" :height="size" viewBox="0 0 24 24" aria-hidden="true" class="icon"><path :d="path" /></svg>
</template>

<style scoped>
.icon {
  display: block;
  flex: none;
  fill: currentColor;
}
</style>

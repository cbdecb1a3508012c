<script setup lang="ts">
import { figure, isNegative } from './figures'

/** Money or another figure, in the reader's locale; a negative one has a minus sign and rust. */
defineProps<{ of?: string | null }>()
</script>

<template>
  <span :class="{ neg: isNegative(of) }">{{ figure(of) }}</span>
</template>

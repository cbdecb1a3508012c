<script setup lang="ts">
import { figure } from './figures'

/** Asks whether a number that could be read in two ways was meant as the other one. */
defineProps<{ other?: string }>()
const emit = defineEmits<{ meant: [other: string] }>()
</script>

<template>
  <button v-if="other" type="button" class="lnk" @click="emit('meant', other)">Or is {{ figure(other) }} meant?</button>
</template>

<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { pieces } from './bank'

/** What the bank says of a receipt, with the words underlined that gave away what it pays. */
const props = defineProps<{ slip: Schema['Slip'] }>()
const text = computed(() => pieces(props.slip.text ?? '', props.slip.words))
</script>

<template>
  <span class="two"
    ><span v-if="slip.name">{{ slip.name }}</span
    ><component :is="slip.name ? 'small' : 'span'"
      ><template v-for="(p, i) in text" :key="i"
        ><u v-if="p.gave">{{ p.text }}</u
        ><template v-else>{{ p.text }}</template></template
      ></component
    ></span
  >
</template>

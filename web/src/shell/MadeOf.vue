<script setup lang="ts">
import { figure } from '@/parts/figures'
import type { FootingFigure } from '@/book/footing'

/** What a figure of the footing is made of, behind the word why. */
defineProps<{ f: FootingFigure }>()
</script>

<template>
  <v-menu location="top">
    <template #activator="{ props: menu }"
      ><button v-bind="menu" class="made-of" :aria-label="`why: ${f.label}`">why</button></template
    >
    <dl class="reasons">
      <div v-for="r in f.of" :key="r.label">
        <dt>{{ r.label }}</dt>
        <dd>{{ figure(r.value) }}</dd>
      </div>
    </dl>
  </v-menu>
</template>

<style scoped>
.made-of {
  font-size: 0.75rem;
  font-weight: 560;
  text-decoration: underline 1px;
  text-underline-offset: 3px;
}
.reasons {
  background: var(--paper);
  border: 1px solid var(--ink);
  padding: 8px 16px;
}
.reasons > div {
  display: flex;
  justify-content: space-between;
  gap: 24px;
  line-height: 1.5rem;
}
.reasons dd {
  font-weight: 600;
}
</style>

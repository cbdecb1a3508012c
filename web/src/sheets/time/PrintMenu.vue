<script setup lang="ts">
import { mdiPrinterOutline } from '@mdi/js'
import { computed } from 'vue'
import Icon from '@/parts/Icon.vue'
import type { SheetQuery } from '@/shell/outbox'

/** Papers of a crew's week: filled in, or blank to take along. */
const props = defineProps<{ query: SheetQuery }>()
const address = computed(() => `/api/time/paper?${new URLSearchParams({ ...props.query })}`)
</script>

<template>
  <v-menu>
    <template #activator="{ props: opens }">
      <v-btn v-bind="opens"><Icon :path="mdiPrinterOutline" :size="15" /> Print</v-btn>
    </template>
    <v-list>
      <v-list-item title="This week, filled in" :href="address" target="_blank" />
      <v-list-item title="A blank sheet to take along" :href="`${address}&blank=yes`" target="_blank" />
    </v-list>
  </v-menu>
</template>

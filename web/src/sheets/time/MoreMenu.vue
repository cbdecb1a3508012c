<script setup lang="ts">
import { mdiChevronDown } from '@mdi/js'
import { computed } from 'vue'
import Icon from '@/parts/Icon.vue'
import type { SheetQuery } from '@/book/outbox'
import { useScope } from '@/book/scope'

/** What is done with a crew's week beside typing it: papers of it, and hours brought in from a table. */
const props = defineProps<{ query: SheetQuery; canFill?: boolean; canShow?: boolean }>()
defineEmits<{ fill: []; workings: [] }>()
const scope = useScope()
const address = computed(() => `/api/time/paper?${new URLSearchParams({ ...props.query })}`)
</script>

<template>
  <v-menu>
    <template #activator="{ props: opens }">
      <v-btn v-bind="opens">More <Icon :path="mdiChevronDown" :size="14" /></v-btn>
    </template>
    <v-list>
      <v-list-item
        v-if="canFill"
        title="Crew fill: this row's hours for everyone"
        subtitle="f"
        @click="$emit('fill')"
      />
      <v-list-item v-if="canShow" title="Workings" subtitle="w" @click="$emit('workings')" />
      <v-list-item title="Bring hours in from a spreadsheet" @click="scope.change({ view: 'import', span: '' })" />
      <v-list-item title="Print this week, filled in" :href="address" target="_blank" />
      <v-list-item title="Print a blank sheet to take along" :href="`${address}&blank=yes`" target="_blank" />
    </v-list>
  </v-menu>
</template>

<script setup lang="ts" generic="R, M extends object">
import { watch } from 'vue'
import FormCard from './FormCard.vue'
import SureButton from './SureButton.vue'
import type { Form } from '@/book/form'
import type { Edit } from './edit'

/** The form of a record that is edited in its row: its fields, what saving would alter, and deleting it. */
const props = defineProps<{
  edit: Edit<R, M>
  label: string
  submit?: string
  /** The record as it was read last: what somebody else has changed of it is said. */
  now?: R
}>()
watch(
  () => props.now,
  (now) => now && props.edit.met(now as R),
)
</script>

<template>
  <FormCard
    :form="edit.form as unknown as Form"
    :label="label"
    :submit="submit ?? 'Save'"
    cancel="Cancel"
    @cancel="edit.close()"
  >
    <slot />
    <template #after>
      <SureButton v-if="edit.remove" label="Delete" sure="It is deleted for good." @sure="edit.remove()" />
      <p class="alters" role="status">{{ edit.alters.value }}</p>
      <p v-if="edit.said.value" class="said" role="alert">{{ edit.said.value }}</p>
    </template>
  </FormCard>
</template>

<style scoped>
.alters {
  flex-basis: 100%;
  min-height: 1.25rem;
  color: var(--ink-soft);
}
</style>

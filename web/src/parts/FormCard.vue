<script setup lang="ts">
import { onBeforeUnmount } from 'vue'
import { provideForm, type Form } from '@/book/form'
import { leaving } from '@/book/leaving'

/** A form in place: its fields, the button that says what it does, and what is wrong with it as a whole. */
const props = defineProps<{
  form: Form
  label: string
  submit: string
  cancel?: string
  /** There is nothing to send yet. */
  idle?: boolean
}>()
defineEmits<{ cancel: [] }>()
provideForm(props.form)
onBeforeUnmount(leaving(() => props.form.dirty))
/** What no field says. */
const general = () => (Object.keys(props.form.wrong).length ? '' : props.form.said)
</script>

<template>
  <form class="form-row" :aria-label="label" @submit.prevent="form.submit()">
    <slot />
    <v-btn class="go" type="submit" :loading="form.busy" :disabled="idle">{{ submit }}</v-btn>
    <v-btn v-if="cancel" @click="$emit('cancel')">{{ cancel }}</v-btn>
    <span class="said" role="alert">{{ general() }}</span>
    <slot name="after" />
  </form>
</template>

<script setup lang="ts">
import { answered, client } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'

/** One's own password, changed for the one there is. Wherever else one is signed in, one is not any more. */
const emit = defineEmits<{ close: [] }>()
const form = useForm({
  blank: () => ({ had: '', password: '' }),
  change: 'users',
  send: ({ had, password }) => answered(client.POST('/api/session/password', { body: { had, password } })),
  done: () => emit('close'),
})
</script>

<template>
  <aside class="password" aria-label="Change your password" @keydown.esc.stop="emit('close')">
    <FormCard :form="form" label="Password" submit="Change password" cancel="Cancel" @cancel="emit('close')">
      <FormField label="Your password now" name="had" kind="password" autocomplete="current-password" focus />
      <FormField
        label="New password, 12 characters or more"
        name="password"
        kind="password"
        autocomplete="new-password"
        size="wide"
      />
    </FormCard>
    <p class="soft">Wherever else you are signed in, you have to sign in again.</p>
  </aside>
</template>

<style scoped>
.password {
  position: absolute;
  top: 8px;
  right: var(--edge);
  z-index: 5;
  background: var(--paper);
  border: 1px solid var(--rule-strong);
  padding: 8px 16px 14px;
}
</style>

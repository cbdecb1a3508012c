<script setup lang="ts">
import { answered, client } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Panel from '@/parts/Panel.vue'

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
  <Panel class="password" title="Change your password" @close="emit('close')">
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
  </Panel>
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

<script setup lang="ts">
import { reactive, ref } from 'vue'
import { answered, client, Refusal } from '@/api/client'
import Field from '@/parts/Field.vue'
import { useFooting } from '@/book/footing'

/** One's own password, changed for the one there is. Wherever else one is signed in, one is not any more. */
const emit = defineEmits<{ close: [] }>()
const footing = useFooting()
const typed = reactive({ had: '', password: '' })
const wrong = ref<Record<string, string>>({})
const said = ref('')
const busy = ref(false)

async function save() {
  busy.value = true
  said.value = ''
  wrong.value = {}
  try {
    await answered(client.POST('/api/session/password', { body: { ...typed } }))
    footing.saved()
    emit('close')
  } catch (refused) {
    wrong.value = refused instanceof Refusal ? refused.fields() : {}
    if (!Object.keys(wrong.value).length) said.value = (refused as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <aside class="password" aria-label="Change your password" @keydown.esc.stop="emit('close')">
    <form class="form-row" @submit.prevent="save">
      <Field
        v-model="typed.had"
        label="Your password now"
        type="password"
        autocomplete="current-password"
        :said="wrong.had"
      />
      <Field
        v-model="typed.password"
        label="New password, 12 characters or more"
        type="password"
        autocomplete="new-password"
        :said="wrong.password"
        class="wide"
      />
      <v-btn class="go" type="submit" :loading="busy">Change password</v-btn>
      <v-btn @click="emit('close')">Cancel</v-btn>
      <span v-if="said" class="said" role="alert">{{ said }}</span>
    </form>
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

<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useAct } from '@/book/act'
import { useSession } from '@/book/session'
import FormField from '@/parts/FormField.vue'

/** The session is over: signing in again in place, with everything that is typed still there. */
const session = useSession()
const { busy, said, act } = useAct('everything')
const password = ref('')
const card = ref<HTMLElement>()
const before = document.activeElement as HTMLElement | null
onMounted(() => card.value?.querySelector('input')?.focus())
async function enter() {
  await act(() => session.signInAgain(password.value))
  if (!session.over) before?.focus()
}
</script>

<template>
  <div class="veil">
    <div ref="card" class="again" role="dialog" aria-modal="true" aria-labelledby="again-title">
      <h2 id="again-title">You have been signed out</h2>
      <p>Nothing you typed is lost. Sign in again as {{ session.who?.name }} to go on where you were.</p>
      <form class="form-row" aria-label="Sign in again" @submit.prevent="enter">
        <FormField
          v-model="password"
          label="Password"
          kind="password"
          autocomplete="current-password"
          :wrong="said"
          size="wide"
        />
        <v-btn class="go" type="submit" :loading="busy">Sign in</v-btn>
        <a class="lnk" href="/sign-in">Sign in as somebody else</a>
      </form>
    </div>
  </div>
</template>

<style scoped>
.again {
  width: 28.75rem;
}
h2 {
  font-size: 1.25rem;
  font-weight: 680;
  padding: 14px 16px 4px;
}
p {
  padding: 0 16px 12px;
}
</style>

<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '@/book/session'

const session = useSession()
const router = useRouter()
const route = useRoute()
const name = ref(session.book?.demoSignIn ?? '')
const password = ref(session.book?.demoPassword ?? '')
const said = ref('')
const busy = ref(false)
const host = location.host
const field = ref<HTMLInputElement>()
onMounted(() => field.value?.focus())
const today = new Date().toLocaleDateString(undefined, {
  weekday: 'short',
  day: 'numeric',
  month: 'long',
  year: 'numeric',
})

async function enter() {
  busy.value = true
  said.value = ''
  try {
    await session.signIn(name.value, password.value)
    await router.replace(typeof route.query.next === 'string' ? route.query.next : '/')
  } catch (refused) {
    said.value = (refused as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="page">
    <main class="door">
      <h1 class="sr">Sign in</h1>
      <div class="folder">
        <span class="leaf"></span><span class="leaf"></span><span class="tab">{{ session.book?.companyName }}</span>
        <div class="face">
          <form class="label" @submit.prevent="enter">
            <span class="wordmark">Jarvo</span>
            <p class="hi">Sign the book</p>
            <label>Name<input ref="field" v-model="name" name="name" autocomplete="username" required /></label>
            <label
              >Password<input
                v-model="password"
                name="password"
                type="password"
                autocomplete="current-password"
                required
            /></label>
            <p v-if="said" class="said" role="alert">{{ said }}</p>
            <p v-else-if="session.book?.demoSignIn" class="soft">
              This is the demo book; its name and password are filled in.
            </p>
            <v-btn class="go big" type="submit" :loading="busy">Sign in</v-btn>
          </form>
        </div>
      </div>
    </main>
    <footer class="foot">
      <small>{{ today }}</small><b>{{ host }}</b>
    </footer>
  </div>
</template>

<style scoped>
.page {
  height: 100dvh;
  display: grid;
  grid-template-rows: minmax(0, 1fr) 3.625rem;
}
.door {
  display: grid;
  place-items: center;
  padding: 0 12px 24px;
}
.folder {
  position: relative;
  width: min(38.75rem, 100%);
  height: 27.5rem;
}
.leaf {
  position: absolute;
  left: 22px;
  right: 16px;
  top: 16px;
  height: 3.75rem;
  background: var(--paper);
  border: 1px solid var(--canvas-edge);
  transform: rotate(-0.7deg);
}
.leaf + .leaf {
  left: 14px;
  right: 26px;
  top: 20px;
  transform: rotate(0.4deg);
}
.tab {
  position: absolute;
  left: 30px;
  top: 0;
  height: 2.625rem;
  padding: 9px 30px 0;
  font-size: 0.9375rem;
  font-weight: 620;
  z-index: 1;
}
.tab::before {
  content: '';
  position: absolute;
  inset: 0 0 -1px;
  z-index: -1;
  background: var(--canvas-back);
  border: 1px solid var(--canvas-edge);
  border-bottom: 0;
  border-radius: 7px 7px 0 0;
  transform: perspective(60px) rotateX(12deg);
  transform-origin: 50% 100%;
}
.face {
  position: absolute;
  inset: 40px 0 0;
  background: var(--canvas-back);
  border: 1px solid var(--canvas-edge);
  border-radius: 3px 5px 4px 4px;
  box-shadow: 0 14px 26px -14px var(--shade-far);
}
.label {
  margin: 30px auto 0;
  width: min(26.625rem, 92%);
  background: var(--paper);
  border: 1px solid var(--canvas-edge);
  outline: 1px solid var(--rule);
  outline-offset: -5px;
  padding: 24px 34px 26px;
}
.wordmark {
  margin: 0 0 14px;
}
.hi {
  font: 300 1.3125rem/1.625rem var(--face);
  font-stretch: 106%;
  padding-bottom: 12px;
}
label {
  display: block;
  font-size: var(--t-small);
  color: var(--ink-soft);
  padding-bottom: 12px;
}
label input {
  display: block;
  width: 100%;
  height: 2rem;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
  font-size: 1rem;
  font-weight: 580;
  padding: 0 4px;
  color: var(--ink);
}
form p:not(.hi) {
  padding-bottom: 10px;
}
.foot {
  background: var(--denim-deep);
  color: var(--on-denim);
  border-top: 1px dashed var(--stitch);
  padding: 9px 18px;
}
.foot small {
  display: block;
  color: var(--on-denim-soft);
}
</style>

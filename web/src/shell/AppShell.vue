<script setup lang="ts">
import { mdiMagnify, mdiTrayArrowDown } from '@mdi/js'
import { useQuery } from '@tanstack/vue-query'
import { useMediaQuery, whenever } from '@vueuse/core'
import { computed, defineAsyncComponent, nextTick, ref, watch, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, client } from '@/api/client'
import Icon from '@/parts/Icon.vue'
import { onPhone, tabs } from '@/router'
import AppFooting from './AppFooting.vue'
import { useFooting } from '@/book/footing'
import { useLeaving } from '@/book/leaving'
import { useKeys } from '@/book/keys'
import { useNews } from '@/book/news'
import { keepForOffline } from '@/book/offline'
import { useOutbox } from '@/book/outbox'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import { useUndo } from '@/book/undo'
import WhoButton from './WhoButton.vue'

/** The menu comes after the first paint: its button is there at once. */
const WhoMenu = defineAsyncComponent({ loader: () => import('./WhoMenu.vue'), loadingComponent: WhoButton, delay: 0 })
const FindOrDo = defineAsyncComponent(() => import('./FindOrDo.vue'))
const PasswordCard = defineAsyncComponent(() => import('./PasswordCard.vue'))
const SignInAgain = defineAsyncComponent(() => import('./SignInAgain.vue'))
const KeysCard = defineAsyncComponent(() => import('./KeysCard.vue'))

const route = useRoute()
const router = useRouter()
const session = useSession()
const footing = useFooting()
const scope = useScope()
const undo = useUndo()
watch(
  () => route.meta.tab,
  async () => {
    undo.forget()
    await nextTick()
    if (!main.value?.contains(document.activeElement)) main.value?.focus()
  },
)
useOutbox().open(session.book?.key ?? '', session.who?.name ?? '')
whenever(
  () => session.who?.role,
  (role) => void keepForOffline(role),
  { immediate: true },
)
if (session.can('capture')) useNews()
useLeaving()
const main = ref<HTMLElement>()
const finding = ref(false)
const showKeys = ref(false)
const changing = ref(false)
const phone = useMediaQuery('(max-width: 720px)')

const open = computed(() => tabs.filter((t) => session.can(t.needs)))
const totals = useQuery({
  queryKey: ['counts'],
  queryFn: () => answered(client.GET('/api/counts')),
  enabled: () => session.can('capture'),
})
const counts = computed<Record<string, number | undefined>>(() => ({
  approve: totals.data.value?.waiting,
  bill: totals.data.value?.ready,
}))
watchEffect(() => {
  const onToday = !phone.value || onPhone(session.can).includes('today')
  footing.looseEnds = onToday ? (totals.data.value?.looseEnds ?? 0) : 0
})
/** The tables in view, as a file under the name of the sheet and of where and when. */
async function exportShown() {
  const { exportSeen } = await import('./exportSeen')
  const name = [tabs.find((t) => t.name === route.meta.tab)?.label, footing.what]
  if (!exportSeen(name.filter(Boolean).join(', '))) footing.state = 'There is no table here to export'
}
const shown = computed(() => open.value.filter((t) => !phone.value || onPhone(session.can).includes(t.name)))
const labelOf = (tab: (typeof tabs)[number]) => (phone.value && tab.name === 'time' ? 'Crew' : tab.label)
useKeys({
  find: () => (finding.value = session.can('capture')),
  keys: () => (showKeys.value = !showKeys.value),
  go: (letter) => {
    const tab = open.value.find((t) => t.letter === letter)
    if (tab) void router.push({ path: tab.path, query: scope.kept.value })
  },
  earlier: () => void scope.move(-1),
  later: () => void scope.move(1),
  where: () => document.getElementById('where')?.click(),
  escape: () => (showKeys.value = false),
  undo: undo.undo,
  redo: undo.redo,
})
</script>

<template>
  <div class="frame">
    <a class="skip" href="#sheet">To the sheet</a>
    <header class="top">
      <router-link class="wordmark" to="/">Jarvo</router-link>
      <nav class="tabs" aria-label="Steps of the work">
        <router-link
          v-for="tab in shown"
          :key="tab.name"
          :to="{ path: tab.path, query: scope.kept.value }"
          :aria-current="route.meta.tab === tab.name ? 'page' : undefined"
          >{{ labelOf(tab) }}<small v-if="counts[tab.name]">{{ counts[tab.name] }}</small></router-link
        >
      </nav>
      <button
        v-if="session.can('capture')"
        class="export"
        title="Export what is shown"
        aria-label="Export what is shown"
        @click="exportShown"
      >
        <Icon :path="mdiTrayArrowDown" />
      </button>
      <button v-if="session.can('capture')" class="find" @click="finding = true">
        <Icon :path="mdiMagnify" /> Find or do <kbd>Ctrl K</kbd>
      </button>
      <WhoMenu @keys="showKeys = true" @password="changing = true" />
    </header>
    <main id="sheet" ref="main" class="desk" tabindex="-1">
      <router-view />
      <KeysCard v-if="showKeys" @close="showKeys = false" />
      <PasswordCard v-if="changing" @close="changing = false" />
    </main>
    <AppFooting />
    <SignInAgain v-if="session.over" />
    <FindOrDo v-if="finding" v-model="finding" @export="exportShown" @keys="showKeys = true" />
  </div>
</template>

<style scoped>
.frame {
  height: 100dvh;
  display: grid;
  grid-template: 2.875rem minmax(0, 1fr) 3.625rem / minmax(0, 1fr);
}
.top {
  display: flex;
  align-items: flex-end;
  padding: 0 var(--edge);
  position: relative;
  z-index: 2;
}
.tabs {
  display: flex;
  height: 2.375rem;
}
.tabs a {
  position: relative;
  display: flex;
  align-items: center;
  padding: 2px 19px 0;
  margin-right: -5px;
  font-weight: 500;
  font-size: 0.875rem;
  z-index: 1;
}
.tabs a::before {
  content: '';
  position: absolute;
  inset: 3px 0 0;
  z-index: -1;
  background: var(--canvas-back);
  border: 1px solid var(--canvas-edge);
  border-bottom: 0;
  border-radius: 6px 6px 0 0;
  transform: perspective(46px) rotateX(11deg);
  transform-origin: 50% 100%;
}
.tabs small {
  font-size: 0.75rem;
  padding-left: 7px;
}
.tabs a[aria-current] {
  z-index: 3;
  font-weight: 680;
}
.tabs a[aria-current]::before {
  background: var(--paper);
  inset: 0 0 -1px;
}
.export {
  margin-left: auto;
  align-self: center;
  display: grid;
  place-items: center;
  width: 1.75rem;
  height: 1.75rem;
  color: var(--ink-soft);
}
.find {
  margin-left: 12px;
  align-self: center;
  display: flex;
  align-items: center;
  gap: 8px;
  width: 13.5rem;
  height: 1.75rem;
  border-bottom: 1.5px solid var(--ink-soft);
  color: var(--ink-soft);
}
.find kbd {
  margin-left: auto;
  color: var(--ink);
}
.desk {
  position: relative;
  z-index: 1;
  min-height: 0;
  padding: 0 var(--edge) 10px;
  outline: 0;
}
@media (max-width: 720px) {
  .find,
  .export {
    display: none;
  }
  .desk {
    padding: 0;
  }
}
</style>

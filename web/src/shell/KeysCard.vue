<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { keysThere, type Key } from '@/book/help'
import { keysEverywhere, letterKeys } from '@/book/keys'
import { useSession } from '@/book/session'
import Panel from '@/parts/Panel.vue'
import { grouped } from '@/parts/ledger'
import { tabs } from '@/router'
import { helpFor, sheetAt } from './helpPages'

defineEmits<{ close: [] }>()
/** The page of the sheet in hand, or what all pages have on the words that are typed. */
const route = useRoute()
const typed = ref('')
const help = computed(() => helpFor(sheetAt(route.path), typed.value))
/** The keys that what is on the screen takes, and those that work everywhere. */
const groups = computed(() =>
  [
    { title: 'Everywhere', keys: [...keysEverywhere, ...tabKeys.value] },
    ...[...grouped([...keysThere.values()], (g) => g.title)].map(([title, of]) => ({
      title,
      keys: of.flatMap((g) => g.keys),
    })),
    { title: 'In a date', keys: [['Alt ↓', 'calendar'] as Key] },
    { title: 'Hours can be typed', keys: hoursTyped },
  ].filter((g) => g.keys.length),
)
const session = useSession()
const tabKeys = computed(() =>
  tabs.filter((t) => session.can(t.needs)).map((t): Key => [`Alt G  ${t.letter}`, t.label]),
)
const hoursTyped: Key[] = [
  ['8   8.5   8:30', 'hours, or hours and minutes'],
  ['7-3:30', 'from seven to half past three'],
  ['7-15:30/30', 'and half an hour of break'],
  ['22-6', 'past midnight'],
]
</script>

<template>
  <Panel class="crib" title="Help and keys" @close="$emit('close')">
    <template #head
      ><label class="soft"
        ><input v-model="letterKeys" type="checkbox" class="box" /> letters work without Alt too</label
      ></template
    >
    <div class="pages">
      <input v-model="typed" class="search" aria-label="Search the help" placeholder="Search the help" />
      <p v-if="!help.length" class="soft" role="status">Nothing is written about that yet.</p>
      <section v-for="part in help" :key="`${part.sheet} ${part.title}`">
        <h3>{{ part.title }}</h3>
        <!-- eslint-disable-next-line vue/no-v-html -- our own pages, from docs/help -->
        <div v-html="part.html"></div>
      </section>
    </div>
    <div class="columns">
      <div v-for="{ title, keys } in groups" :key="title" class="part">
        <h3>{{ title }}</h3>
        <dl>
          <div v-for="[key, does] in keys" :key="key">
            <dt>
              <kbd>{{ key }}</kbd>
            </dt>
            <dd>{{ does }}</dd>
          </div>
        </dl>
      </div>
    </div>
  </Panel>
</template>

<style scoped>
.pages {
  padding: 12px 0;
  border-bottom: 1px solid var(--ink);
  display: grid;
  gap: 10px;
}
.pages :deep(code) {
  font: inherit;
  font-weight: 620;
}
.search {
  height: 1.75rem;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
}
.crib {
  position: absolute;
  z-index: 5;
  right: var(--edge);
  top: 0;
  bottom: 10px;
  width: 43.75rem;
  max-width: 100%;
  background: var(--paper);
  border-left: 2px solid var(--ink);
  box-shadow: -8px 0 18px -8px var(--shade-far);
  padding: 0 24px 0 52px;
  overflow: auto;
}
.crib::before {
  content: '';
  position: absolute;
  left: 15px;
  top: 0;
  bottom: 0;
  width: 1rem;
  background: radial-gradient(circle at 50% 50%, var(--canvas) 6px, var(--rule-strong) 6.5px 7px, transparent 7.5px) 0
    20px/16px 96px repeat-y;
}
.crib > :deep(header) {
  height: 3.25rem;
  padding-top: 16px;
  border-bottom: 1px solid var(--ink);
}
label {
  display: flex;
  align-items: center;
  gap: 6px;
}
.columns {
  columns: 2;
  column-gap: 30px;
}
.part {
  break-inside: avoid;
}
h3 {
  font-weight: 660;
  font-size: 0.875rem;
  padding: 14px 0 3px;
}
dl > div {
  display: flex;
  gap: 10px;
  align-items: baseline;
  min-height: 1.625rem;
  border-bottom: 1px solid var(--rule-faint);
}
dt {
  width: 8.125rem;
  flex: none;
}
</style>

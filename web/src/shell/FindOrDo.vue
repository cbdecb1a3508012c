<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answered, client } from '@/api/client'
import { addressOf, setupParts } from '@/parts/addresses'
import { inWords, longDay } from '@/parts/figures'
import { readNumber } from '@/parts/reading'
import { tabs } from '@/router'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'

const shown = defineModel<boolean>({ required: true })
const emit = defineEmits<{ export: []; keys: [] }>()
const router = useRouter()
const scope = useScope()
const session = useSession()
const typed = ref('')
const at = ref(0)
const field = ref<HTMLInputElement>()

interface Found {
  title: string
  sub: string
  go: () => unknown
}

const all = computed<Found[]>(() => {
  const to = (path: string, query = {}) => router.push({ path, query: { ...scope.kept.value, ...query } })
  const found: Found[] = tabs
    .filter((t) => session.can(t.needs))
    .map((t) => ({ title: `Go to ${t.label}`, sub: `g ${t.letter}`, go: () => to(t.path) }))
  if (session.can('setup')) {
    for (const [title, part] of [
      ['Add a worker', 'workers'],
      ['Add a customer', 'customers'],
      ['Add a rate', 'rates'],
      ['Add a markup', 'markups'],
      ['Add a burden component', 'burden'],
    ] as const)
      found.push({ title, sub: 'Setup', go: () => to('/setup', { part, add: 'yes' }) })
    found.push({ title: 'Open a new job', sub: 'Jobs', go: () => to('/jobs', { add: 'yes' }) })
    for (const [part, name] of setupParts)
      found.push({ title: `Setup: ${name}`, sub: 'settings', go: () => to('/setup', { part }) })
  }
  if (session.can('approve'))
    found.push({
      title: 'Decided: approved and returned',
      sub: 'Approve',
      go: () => to('/approve', { list: 'decided' }),
    })
  if (session.can('bill'))
    for (const list of ['ready', 'drafts', 'issued'])
      found.push({
        title: `Invoices: ${list}`,
        sub: 'Bill',
        go: () => to('/bill', { list: list === 'ready' ? '' : list }),
      })
  for (const [title, view] of [
    ['Hours as a list', 'list'],
    ['Bring hours in from a spreadsheet', 'import'],
  ] as const)
    found.push({ title, sub: 'Time', go: () => to('/time', { view }) })
  if (session.can('costs'))
    found.push({ title: 'Reimburse workers', sub: 'Costs', go: () => to('/costs', { list: 'owed' }) })
  found.push({ title: 'Keys', sub: 'F1', go: () => emit('keys') })
  found.push({ title: 'Export what is shown', sub: 'as CSV', go: () => emit('export') })
  found.push({ title: 'Print this sheet', sub: 'Ctrl P', go: () => window.setTimeout(() => window.print(), 300) })
  if (session.can('costs'))
    found.push({ title: 'Enter a paper', sub: 'Costs', go: () => to('/costs', { open: 'new' }) })
  for (const crew of scope.choices.value?.crews ?? [])
    found.push({ title: crew, sub: 'crew sheet', go: () => to('/time', { crew }) })
  for (const j of scope.choices.value?.jobs ?? [])
    found.push({
      title: `${j.number} ${j.name}`,
      sub: j.customer || 'own',
      go: () => (session.can('money') ? router.push(`/jobs/${j.number}`) : to('/time', { job: j.number })),
    })
  return found
})
/** Records are found by the book, once typing rests; what one can do and what is at hand is found at once. */
const rested = refDebounced(typed, 150)
const records = useQuery({
  queryKey: computed(() => ['find', rested.value]),
  queryFn: () =>
    answered(client.GET('/api/find', { params: { query: { text: rested.value, amount: readNumber(rested.value) } } })),
  enabled: () => rested.value.trim().length > 1,
  staleTime: 0,
})
const most = 8
const matches = computed<Found[]>(() => {
  const words = typed.value.toLowerCase().split(/\s+/).filter(Boolean)
  const has = (f: Found) => words.every((w) => `${f.title} ${f.sub}`.toLowerCase().includes(w))
  const found = typed.value.trim().length > 1 ? (records.data.value?.found ?? []) : []
  return [
    ...all.value.filter(has).slice(0, found.length ? most : 2 * most),
    ...found.map((f) => ({
      title: f.title,
      sub: [f.detail, f.date && longDay(f.date)].filter(Boolean).join(', '),
      go: () => router.push(addressOf(f.link)),
    })),
  ]
})
watch(typed, () => (at.value = 0))
watch(at, (row) => void nextTick(() => document.getElementById(`found-${row}`)?.scrollIntoView({ block: 'nearest' })))
watch(shown, (is) => is && nextTick(() => field.value?.focus()), { immediate: true })

/** Enter before the book has answered goes to the first that it finds. */
const asked = ref(false)
watch(typed, () => (asked.value = false))
watch(matches, (now) => asked.value && take(now[0]))
function take(found: Found | undefined) {
  asked.value = !found
  if (!found) return
  shown.value = false
  void found.go()
}
</script>

<template>
  <v-dialog v-model="shown" width="560" aria-label="Find or do anything" @after-enter="field?.focus()">
    <div class="find-card">
      <input
        ref="field"
        v-model="typed"
        role="combobox"
        aria-label="Find or do"
        aria-controls="found"
        aria-expanded="true"
        :aria-activedescendant="matches.length ? `found-${at}` : undefined"
        placeholder="A job, an invoice, a name, or what you want to do"
        @keydown.down.prevent="at = Math.min(at + 1, matches.length - 1)"
        @keydown.up.prevent="at = Math.max(at - 1, 0)"
        @keydown.enter.prevent="take(matches[at])"
      />
      <ul id="found" role="listbox" aria-label="Found">
        <li
          v-for="(f, i) in matches"
          :id="`found-${i}`"
          :key="`${i} ${f.title}`"
          role="option"
          :aria-selected="i === at"
          @click="take(f)"
          @mousemove="at = i"
        >
          <span>{{ f.title }}</span> <small>{{ f.sub }}</small>
        </li>
        <li v-if="records.error.value" role="option" aria-selected="false" class="said">
          {{ inWords(records.error.value.message) }}
        </li>
        <li v-else-if="!matches.length && !records.isFetching.value" role="option" aria-selected="false" class="soft">
          Nothing is called that.
        </li>
      </ul>
    </div>
  </v-dialog>
</template>

<style scoped>
.find-card {
  background: var(--paper);
  color: var(--ink);
  border: 1px solid var(--canvas-edge);
  border-radius: 3px;
  overflow: hidden;
}
input {
  width: 100%;
  height: 2.875rem;
  border: 0;
  border-bottom: 1px solid var(--ink);
  padding: 0 16px;
  font-size: 1.0625rem;
  background: none;
  outline: 0;
}
ul {
  max-height: min(28.75rem, 60vh);
  overflow: auto;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 7px 16px;
  border-bottom: 1px solid var(--rule-faint);
  cursor: pointer;
}
li[aria-selected='true'] {
  background: var(--denim-wash);
  box-shadow: inset 4px 0 0 var(--denim);
}
small {
  color: var(--ink-soft);
}
</style>

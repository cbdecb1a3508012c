<script setup lang="ts">
import { refDebounced, useEventListener } from '@vueuse/core'
import { useQueryClient } from '@tanstack/vue-query'
import { computed, onMounted, ref, watch } from 'vue'
import { answered, client, newKey, type Schema } from '@/api/client'
import { counted, hours, shortDay, weekday } from '@/parts/figures'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import { writeBlock } from '@/parts/clipboard'
import { pastedLines } from './pasted'
import TimeHead from './TimeHead.vue'

/** Hours from a spreadsheet or a clock: read first, with what is wrong beside each row; the good rows come in when told. */
const scope = useScope()
const footing = useFooting()
const queries = useQueryClient()
const text = ref(pastedLines.take())
const columns = ref<string[]>()
const preview = ref<Schema['HoursPreview']>()
const said = ref('')
const done = ref('')
const busy = ref(false)
const dropping = ref(false)
let key = newKey()
const settled = refDebounced(text, 300)
const body = () => ({ key, text: text.value, week: scope.week.value, columns: columns.value })

/** What a column can be. */
const kinds = computed(() => {
  const days = Array.from({ length: 7 }, (_, i) => {
    const d = new Date(`${scope.week.value}T00:00:00Z`)
    d.setUTCDate(d.getUTCDate() + i)
    return d.toISOString().slice(0, 10)
  })
  const others = (preview.value?.columns ?? []).filter((c) => /^\d{4}-/.test(c) && !days.includes(c))
  return [
    ['', 'left out'],
    ['worker', 'worker'],
    ['date', 'date'],
    ['job', 'job'],
    ['phase', 'phase'],
    ['cost_code', 'cost code'],
    ['hours', 'hours'],
    ['start', 'start'],
    ['finish', 'finish'],
    ['break', 'break'],
    ['billable', 'billable'],
    ['note', 'note'],
    ...[...days, ...others].map((d) => [d, `${weekday(d!)} ${shortDay(d!)}`]),
  ]
})

async function read() {
  said.value = ''
  if (!text.value.trim()) {
    preview.value = undefined
    return
  }
  busy.value = true
  try {
    preview.value = await answered(client.POST('/api/time/import/preview', { body: body() }))
    columns.value = preview.value.columns ?? []
  } catch (refused) {
    preview.value = undefined
    said.value = (refused as Error & { at?: (path: string) => string }).at?.('text') ?? (refused as Error).message
  } finally {
    busy.value = false
  }
}
watch(settled, () => {
  columns.value = undefined
  void read()
})
onMounted(() => void read())
watch(
  preview,
  (p) =>
    footing.show('Hours to bring in', [
      { label: 'Rows', value: String(p?.good ?? 0) },
      { label: 'To put right', value: String(p?.bad ?? 0) },
      { label: 'Hours', value: hours(p?.hours) || '0' },
    ]),
  { immediate: true },
)
function column(i: number, kind: string) {
  const next = [...(columns.value ?? [])]
  next[i] = kind
  columns.value = next
  void read()
}
async function bring() {
  busy.value = true
  said.value = ''
  try {
    const came = await answered(client.POST('/api/time/import', { body: body() }))
    const left = (came.rows ?? []).filter((r) => r.wrong?.length).map((r) => r.cells ?? [])
    done.value = `${counted(came.good, 'row')} brought in, ${hours(came.hours)} h, not handed in yet`
    key = newKey()
    text.value = left.length ? writeBlock(came.header ? [came.names ?? [], ...left] : left) : ''
    preview.value = undefined
    void queries.invalidateQueries()
  } catch (refused) {
    said.value = (refused as Error).message
  } finally {
    busy.value = false
  }
}
async function open(files?: FileList | null) {
  const file = files?.[0]
  if (!file) return
  done.value = ''
  if (file.size > 3_000_000) said.value = 'This file is larger than 3 MB; bring it in in parts'
  else text.value = await file.text()
}
function drop(event: DragEvent) {
  dropping.value = false
  void open(event.dataTransfer?.files)
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key === 'Enter' && event.ctrlKey && preview.value?.good) void bring()
})
</script>

<template>
  <div class="sheet">
    <TimeHead view="week" :crews="scope.choices.value?.crews ?? []">
      <template #acts>
        <span class="told" role="status">{{ done }}</span>
        <v-btn @click="scope.change({ view: '' })">Back to the sheet</v-btn>
        <v-btn class="go" :loading="busy" :disabled="!preview?.good" @click="bring"
          >Bring {{ counted(preview?.good ?? 0, 'row') }} in</v-btn
        >
      </template>
    </TimeHead>
    <div class="split one">
      <section>
        <div class="scroll">
          <div
            class="from"
            :class="{ dropping }"
            @dragover.prevent="dropping = true"
            @dragleave="dropping = false"
            @drop.prevent="drop"
          >
            <label class="field">
              <span>Rows from a spreadsheet: worker, job, and a date with hours, or a column for each day</span>
              <textarea
                v-model="text"
                rows="5"
                spellcheck="false"
                placeholder="worker, date, job, cost code, hours
Cato Brandl, 2026-11-16, 1187, 320, 8"
              ></textarea>
            </label>
            <label class="file lnk"
              >Open a CSV file<input
                type="file"
                class="sr"
                accept=".csv,.tsv,.txt,text/csv,text/plain"
                @change="open(($event.target as HTMLInputElement).files)"
            /></label>
            <span class="soft">or drop one here. Nothing comes in until you say so.</span>
          </div>
          <p v-if="said" class="said row" role="alert">{{ said }}</p>
          <p v-if="busy && !preview" class="soft row" role="status">Reading…</p>
          <table v-if="preview" class="ledger" aria-label="What was read">
            <thead>
              <tr>
                <th scope="col" style="width: 52px">Row</th>
                <th v-for="(name, i) in preview.names" :key="i" scope="col">
                  {{ name }}
                  <select
                    :value="columns?.[i]"
                    :aria-label="`${name} is`"
                    @change="column(i, ($event.target as HTMLSelectElement).value)"
                  >
                    <option v-for="[kind, label] in kinds" :key="kind" :value="kind">{{ label }}</option>
                  </select>
                </th>
                <th scope="col" style="width: 34%">Read as</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="r in preview.rows" :key="r.line" :class="{ bad: r.wrong?.length }">
                <td class="soft">{{ r.line }}</td>
                <td v-for="(c, i) in r.cells" :key="i" :class="{ soft: !columns?.[i] }">{{ c }}</td>
                <td class="as" :class="r.wrong?.length ? 'said' : ''">
                  {{ r.wrong?.length ? r.wrong.join('; ') : r.read?.join(', ') }}
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
    </div>
  </div>
</template>

<style scoped>
.one {
  grid-template-columns: minmax(0, 1fr);
}
.from {
  padding: 12px 16px 14px;
  border-bottom: 1px solid var(--rule);
}
.dropping {
  background: var(--denim-wash);
}
textarea {
  width: 100%;
  resize: vertical;
  font-size: 0.8125rem;
  padding: 6px 8px;
}
.field > span {
  padding-bottom: 5px;
}
.field > textarea {
  height: auto;
  border: 1px solid var(--rule-strong);
  line-height: 1.125rem;
}
.file {
  cursor: pointer;
  display: inline-block;
  margin: 8px 8px 0 0;
}
.file:focus-within {
  outline: 2px solid var(--denim);
}
.row {
  padding: 8px 16px;
}
.ledger thead th {
  height: 3.125rem;
  line-height: 1.0625rem;
}
.ledger select {
  display: block;
  max-width: 100%;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
  font-weight: 640;
  color: var(--ink);
}
.bad > td:not(.as) {
  color: var(--rust);
}
.ledger .as {
  white-space: normal;
  line-height: 1.0625rem;
}
</style>

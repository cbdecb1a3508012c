<script setup lang="ts">
import { onBeforeUnmount, ref } from 'vue'
import { Refusal, answered, client, windowName, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useSession } from '@/book/session'
import Ledger from '@/parts/Ledger.vue'
import { counted, figure } from '@/parts/figures'
import type { Column } from '@/parts/ledger'

/** The whole book taken out, and bundles brought in: what would come in is shown before it does. */
const session = useSession()
type Brought = Schema['Brought']
const file = ref<File>()
const would = ref<Brought[]>()
const done = ref('')
const field = ref<HTMLInputElement>()
/** What is wrong with the file, place by place: in the file's own way of writing, which is what it is put right in. */
const wrong = ref<{ path: string; message: string }[]>([])
const { busy, said, act, clear } = useAct()

/** How far the book has come with it; nothing while it is still being sent. */
const progress = ref<Schema['Progress']>()
let asking = 0
function follow() {
  progress.value = undefined
  asking = window.setInterval(() => {
    void answered(client.GET('/api/book/bring-in'))
      .then((p) => (progress.value = p.of ? p : undefined))
      .catch(() => undefined) // the import itself says what is wrong
  }, 400)
}
onBeforeUnmount(() => window.clearInterval(asking))

/** Sends the file; where it is only tried, nothing of it is kept. */
async function send(of: File, onlyTry: boolean): Promise<Brought[]> {
  follow()
  const query = new URLSearchParams({ name: of.name, ...(onlyTry ? { try: 'yes' } : {}) })
  const answer = await fetch(`/api/book/bring-in?${query}`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream', 'x-window': windowName },
    body: of,
  }).catch(() => undefined)
  window.clearInterval(asking)
  const body = await answer?.json()
  wrong.value = body?.errors ?? []
  if (answer?.ok) return body
  throw new Refusal({
    title: 'Not brought in',
    status: answer?.status ?? 0,
    detail: body?.detail ?? 'there is no connection to the book; nothing was brought in',
    errors: body?.errors,
  })
}
async function choose(of?: File | null) {
  if (field.value) field.value.value = '' // so that the same file can be chosen again
  if (!of || busy.value) return
  file.value = of
  would.value = undefined
  done.value = ''
  would.value = await act(() => send(of, true))
}
async function bringIn() {
  const brought = await act(() => send(file.value!, false))
  if (!brought) return
  const rows = brought.reduce((sum, b) => sum + b.rows, 0)
  done.value = `${counted(rows, 'row')} of ${file.value!.name} brought in, ${brought.reduce((sum, b) => sum + b.new, 0)} of them new.`
  would.value = undefined
}
function drop() {
  file.value = would.value = undefined
  wrong.value = []
  clear()
}
const columns: Column<Brought>[] = [
  { id: 'file', label: 'File', value: (b) => b.file, tone: 'strong' },
  { id: 'rows', label: 'Rows', kind: 'number', width: 110, value: (b) => b.rows, total: true },
  { id: 'new', label: 'New', kind: 'number', width: 110, value: (b) => b.new, total: true },
]
type Wrong = { path: string; message: string }
const wrongColumns: Column<Wrong>[] = [
  { id: 'at', label: 'Where', width: 260, value: (w) => w.path, tone: 'strong' },
  { id: 'why', label: 'What is wrong', value: (w) => w.message },
]
</script>

<template>
  <div class="split data">
    <section class="out" aria-labelledby="take-out">
      <h2 id="take-out">Take out</h2>
      <p><a class="lnk" href="/api/book/bundle" download>Download the bundle</a></p>
      <p class="soft">
        All of the book as open files in a zip: any spreadsheet reads them, and another Jarvo brings them in.
      </p>
      <template v-if="session.who?.role === 'owner'">
        <p><a class="lnk" href="/api/book/backup" download>Download a backup</a></p>
        <p class="soft">
          The book itself, with who may sign in. Keep it somewhere safe: to go back to it, start Jarvo on that file.
        </p>
      </template>
      <p><a class="lnk" href="/api/book/starter" download>Download a starter bundle</a></p>
      <p class="soft">Each file with its columns explained and an example, to be filled in and brought in here.</p>
    </section>
    <section aria-labelledby="bring-in" @dragover.prevent @drop.prevent="choose($event.dataTransfer?.files[0])">
      <div class="bring">
        <h2 id="bring-in">Bring in</h2>
        <p class="soft">
          A bundle as a zip, or one of its CSV files. It is read first; nothing comes in until you say so, and then all
          of it or nothing. What is there already is brought up to date; what is billed stays.
        </p>
        <label class="choose"
          ><span>Choose a file</span
          ><input
            ref="field"
            class="sr"
            type="file"
            accept=".zip,.csv"
            :disabled="busy"
            @change="choose(($event.target as HTMLInputElement).files?.[0])"
        /></label>
        <p role="status">
          <template v-if="busy"
            >{{ would ? 'Bringing in' : 'Reading' }} {{ file?.name
            }}{{ progress?.file ? `, ${progress.file}` : '' }}…</template
          >
          <template v-else>{{ done }}</template>
        </p>
        <p v-if="busy && progress">
          <progress :value="progress.rows" :max="progress.of" aria-label="Rows read"></progress>
          <span class="soft">{{
            progress.file
              ? `${figure(String(progress.rows))} of ${counted(progress.of, 'row')}`
              : 'All rows are read; costs are worked out.'
          }}</span>
        </p>
        <p v-if="said" class="said" role="alert">{{ file?.name }}: {{ said }}</p>
      </div>
      <Ledger
        v-if="would"
        name="brought"
        label="What would come in"
        of="file"
        :columns="columns"
        :rows="would"
        :row-key="(b) => b.file"
      >
        <template #tools
          ><v-btn class="small go" :loading="busy" @click="bringIn">Bring it in</v-btn
          ><v-btn class="small" @click="drop">Cancel</v-btn></template
        >
        <template #empty>There are no rows in it.</template>
      </Ledger>
      <Ledger
        v-else-if="wrong.length"
        name="not-brought"
        label="What is wrong"
        of="place"
        :columns="wrongColumns"
        :rows="wrong"
        :row-key="(w) => `${w.path} ${w.message}`"
      />
    </section>
  </div>
</template>

<style scoped>
.data {
  grid-template-columns: minmax(0, 22rem) minmax(0, 1fr);
}
.out,
.bring {
  padding: 14px 16px;
}
h2 {
  font-size: var(--t-head);
  font-weight: 680;
}
p {
  padding-bottom: 8px;
}
.choose {
  display: inline-block;
  padding: 6px 14px;
  margin-bottom: 8px;
  border: 1px solid var(--rule-strong);
  font-weight: 620;
  cursor: pointer;
}
.choose:focus-within {
  outline: 2px solid var(--denim);
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import Await from '@/parts/Await.vue'
import Ledger from '@/parts/Ledger.vue'
import { counted, moment } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import MessageRead from './MessageRead.vue'
import MessageTexts from './MessageTexts.vue'
import ReminderList from './ReminderList.vue'
import TryAgain from './TryAgain.vue'
import { outcome } from '@/parts/messages'

/** Messages: what could not be sent first, what waits and what was sent, and who is to be reminded; at the right as it is read. */
const scope = useScope()
const footing = useFooting()
type Row = Schema['MessageRow']
const asked = useQuery({
  queryKey: ['messages', 'outbox'],
  queryFn: () => answered(client.GET('/api/messages')),
  refetchInterval: (q) => (q.state.data?.queued?.length ? 2_000 : false),
})
const { busy, said, act } = useAct('messages')
const opened = computed(() => Number(scope.text('open')) || undefined)
const texts = ref(false)
/** The customer whose reminder is in hand at the right, in place of a message. */
const reminding = ref<number>()
watch(reminding, (customer) => customer && (texts.value = false))
const all = computed(() => {
  const box = asked.data.value
  return [...(box?.failed ?? []), ...(box?.queued ?? []), ...(box?.sent ?? [])]
})
/** One that is looked for may be older than those that are listed. */
const inHand = computed(() => opened.value ?? all.value[0]?.id)
const show = (m: Row) => {
  reminding.value = undefined
  texts.value = false
  void scope.change({ open: String(m.id) })
}
const cancel = (m: Row) =>
  act(() =>
    answered(
      client.POST('/api/messages/{id}/cancel', { params: { path: { id: m.id } }, body: { version: m.version } }),
    ),
  )
const now = (m: Row) =>
  act(() =>
    answered(
      client.POST('/api/messages/{id}/again', {
        params: { path: { id: m.id } },
        body: { version: m.version, to: m.to },
      }),
    ),
  )
watchEffect(() => {
  const c = asked.data.value?.counts
  if (!c) return
  footing.show('Messages', [
    { label: 'Failed', value: String(c.failed), asIs: true },
    { label: 'Waiting', value: String(c.queued), asIs: true },
    { label: 'Sent', value: String(c.sent), asIs: true },
  ])
})
const resume = (waiting: number) => act(() => answered(client.POST('/api/messages/resume', { body: { waiting } })))
const became = (m: Row) =>
  m.status === 'queued' && m.nextTry && m.tries
    ? `tried ${counted(m.tries, 'time')}, again ${moment(m.nextTry)}`
    : m.status === 'failed'
      ? `tried ${counted(m.tries, 'time')}`
      : `by ${m.madeBy}`
const columns: Column<Row>[] = [
  { id: 'to', label: 'To', value: (m) => m.customer, sub: (m) => m.to },
  { id: 'what', label: 'What', width: 170, value: (m) => m.what },
  {
    id: 'when',
    label: 'When, what became of it',
    width: 190,
    value: (m) => m.at,
    text: (m) => moment(m.at),
    sub: became,
  },
]
const waits: Column<Row>[] = [...columns, { id: 'acts', label: 'Next step', width: 130, value: () => '', acts: true }]
const lists = computed(() => [
  { name: 'failed', title: 'Failed', rows: asked.data.value?.failed ?? [], columns },
  { name: 'queued', title: 'Waiting', rows: asked.data.value?.queued ?? [], columns: waits },
  { name: 'sent', title: 'Sent', rows: asked.data.value?.sent ?? [], columns },
])
</script>

<template>
  <Await v-slot="{ data }" :of="asked" what="the messages">
    <div class="split messages">
      <section>
        <Teleport defer to="#bill-acts">
          <span class="said" role="alert">{{ said }}</span>
          <v-btn :aria-pressed="texts" @click="texts = !texts">Texts of messages</v-btn>
        </Teleport>
        <p class="padded soft">
          {{
            data.server
              ? `Messages go out by ${data.server}.`
              : 'No mail server is set up: messages are kept in a folder beside the book, as files that mail programs open.'
          }}
        </p>
        <p v-if="data.stopped" class="padded stopped" role="status">
          <span class="warnword">Nothing is sent:</span> this book is a copy, and the one it was copied from may have
          sent what waits here. Cancel what has gone out already, then
          <button class="lnk" :disabled="busy" @click="resume(data.counts.queued)">
            send the {{ counted(data.counts.queued, 'message') }} that wait</button
          >.
        </p>
        <template v-for="l in lists" :key="l.name">
          <ReminderList v-if="l.name === 'sent'" v-model="reminding" />
          <Ledger
            v-if="l.rows.length || l.name === 'sent'"
            :name="`messages-${l.name}`"
            :label="l.title"
            of="message"
            :columns="l.columns"
            :rows="l.rows"
            :row-key="(m) => m.id"
            :row-name="(m) => `${m.what} to ${m.customer}`"
            :opened="texts || reminding ? undefined : inHand"
            opens
            flat
            :row-class="(m) => (m.status === 'failed' ? 'failed' : '')"
            @open="show"
          >
            <template #tools
              ><h2 class="strong">{{ l.title }}</h2>
              <span v-if="l.name === 'sent' && data.counts.sent > l.rows.length" class="soft"
                >the last {{ l.rows.length }} of {{ data.counts.sent }}</span
              ></template
            >
            <template #when="{ row }"
              ><span class="two"
                ><span>{{ outcome(row.status) }} {{ moment(row.at) }}</span
                ><small :class="{ warnword: row.problem }">{{ row.problem || became(row) }}</small></span
              ></template
            >
            <template #acts="{ row }"
              ><span v-if="row.status === 'queued'" class="steps"
                ><button class="lnk" :disabled="busy" @click.stop="now(row)">Send now</button
                ><button class="lnk" :disabled="busy" @click.stop="cancel(row)">Cancel</button></span
              ></template
            >
            <template v-if="l.name === 'failed'" #below="{ row }">
              <TryAgain :key="row.id" :message="row" @drop="cancel(row)" />
            </template>
            <template #empty>Nothing has been sent yet. Open an issued invoice and press Send.</template>
          </Ledger>
        </template>
      </section>
      <section class="desktop">
        <MessageTexts v-if="texts" @close="texts = false" />
        <div v-show="reminding && !texts" id="reminder-in-hand" class="in-hand"></div>
        <MessageRead v-if="!texts && !reminding && inHand" :id="inHand" :key="inHand" />
      </section>
    </div>
  </Await>
</template>

<style scoped>
.messages {
  grid-template-columns: minmax(0, 1fr) minmax(0, 34rem);
}
.messages > section:first-child {
  overflow-y: auto;
  scroll-padding-bottom: 3.5rem; /* what is under a total is not in sight */
}
.desktop {
  background: var(--canvas);
  padding: 0 22px 22px;
  overflow-y: auto;
}
@media (max-width: 1180px) {
  .messages {
    grid-template-columns: minmax(0, 1fr) minmax(0, 25rem);
  }
}
.padded {
  padding: 8px 16px;
}
.stopped {
  background: var(--ochre-wash);
}
.steps {
  display: flex;
  gap: 12px;
}
.in-hand {
  align-self: stretch;
}
:deep(tr.failed) {
  background: var(--rust-wash);
}
</style>

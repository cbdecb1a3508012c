<script setup lang="ts">
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { computed, ref, watchEffect } from 'vue'
import Await from '@/parts/Await.vue'
import SheetHead from '@/parts/SheetHead.vue'
import TrailKey from '@/parts/TrailKey.vue'
import { hours, inWords } from '@/parts/figures'
import { useFooting } from '@/book/footing'
import { useLetters } from '@/book/help'
import { typing } from '@/book/keys'
import { useScope } from '@/book/scope'
import { useUndo } from '@/book/undo'
import DecidedList from './DecidedList.vue'
import PaperView from '@/parts/PaperView.vue'
import PhoneList from './PhoneList.vue'
import ReturnForm from './ReturnForm.vue'
import WaitingTable from './WaitingTable.vue'
import WeekPanel from './WeekPanel.vue'
import { useWaiting, type Row } from './waiting'

/** Approve: what waits with what stands out in it, one in hand beside what it is held against; and what was decided. */
const scope = useScope()
const footing = useFooting()
const undo = useUndo()
const phone = useMediaQuery('(max-width: 720px)')
const wide = useMediaQuery('(min-width: 1181px)')
const waiting = useWaiting()
const { asked, data, kind, all, rows, chosen, said, busy, current, picked, subject, plain } = waiting
const decided = computed(() => scope.text('list') === 'decided')
const returning = ref(false)
const kinds = computed(() => {
  const weeks = all.value.filter((r) => r.week).length
  const many = (n: number) => (data.value ? ` ${n}` : '') // not 0 where it could not be asked
  return [
    ['all', `All${many(all.value.length)}`],
    ['hours', `Hours${many(weeks)}`],
    ['papers', `Papers${many(all.value.length - weeks)}`],
  ] as const
})
const reasons = (row: Row) =>
  row.week ? ['which job?', 'not what the sheet says'] : ['no job', 'not ours', 'wrong amount']

watchEffect(() => {
  if (!data.value) return
  const some = picked.value.length > 0
  const sums = some ? waiting.sums(picked.value) : data.value
  footing.show(
    some ? `${picked.value.length} of ${rows.value.length}` : `${rows.value.length} waiting`,
    [
      { label: 'Hours', value: sums.hours },
      { label: 'Cost', value: sums.cost },
      { label: 'Charge', value: sums.charge },
    ],
    some ? 'Footing, chosen' : 'Footing',
  )
})
const approve = () => waiting.decide('/api/approve', subject.value)
async function back(reason: string) {
  if (await waiting.decide('/api/return', subject.value, reason)) returning.value = false
}
function decide(letter: string) {
  if (!subject.value.length) return
  if (letter === 'a') void approve()
  else returning.value = true
}
const any = () => !decided.value && subject.value.length > 0
useLetters('Approve', {
  a: { does: 'approve the row, or those that are chosen', act: () => decide('a'), when: any },
  r: { does: 'return it with a reason', act: () => decide('r'), when: any },
  x: { does: 'choose the row', act: () => current.value && waiting.toggle(current.value), when: any },
})
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const by = typing(event) || event.defaultPrevented ? 0 : { ArrowDown: 1, ArrowUp: -1 }[event.key]
  const nowhere = event.target === document.body || (event.target as HTMLElement).id === 'sheet'
  if (!by || !nowhere || decided.value) return
  event.preventDefault()
  waiting.step(by)
})
</script>

<template>
  <div class="sheet">
    <SheetHead title="Approve" :bare="decided">
      <span class="words">
        <template v-if="!phone">
          <button
            v-for="[name, text] in kinds"
            :key="name"
            :aria-pressed="!decided && kind === name"
            @click="((kind = name), scope.change({ list: '' }))"
          >
            {{ text }}
          </button>
        </template>
        <button v-else :aria-pressed="!decided" @click="scope.change({ list: '' })">Not approved</button>
        <button :aria-pressed="decided" @click="scope.change({ list: 'decided' })">Decided</button>
      </span>
      <template v-if="!decided && !phone" #acts>
        <span v-if="said" class="said" role="alert">{{ said }}</span>
        <span v-else class="soft" role="status">{{ undo.said }}</span>
        <v-btn :disabled="!plain.length" @click="chosen = plain.map((r) => r.key)"
          >Choose the {{ plain.length }} {{ wide ? 'without a mark' : 'plain' }}</v-btn
        >
        <v-btn class="go" :loading="busy" :disabled="!subject.length" @click="approve"
          >Approve {{ subject.length || '' }}</v-btn
        >
      </template>
    </SheetHead>
    <DecidedList v-if="decided" />
    <Await v-else-if="!rows.length" :of="asked" what="what is to approve"
      ><div class="empty">
        <h2>Nothing to approve here</h2>
        <p class="soft">Hours and papers come here when they are handed in. Look at another week, or at all dates.</p>
      </div></Await
    >
    <PhoneList v-else-if="phone" :waiting="waiting" :reasons="reasons" />
    <div v-else class="split approve">
      <section>
        <WaitingTable :waiting="waiting" @act="decide" />
        <div class="key">
          <TrailKey v-if="wide" /><span><kbd>a</kbd> approve</span><span><kbd>r</kbd> return</span
          ><span><kbd>x</kbd> choose</span>
        </div>
      </section>
      <section v-if="current">
        <div class="title-row">
          <h2>{{ current.title }}</h2>
          <span class="soft">{{ current.sub }}</span><span v-if="current.week" class="end"
            >{{ hours(current.hours) }} h</span
          >
        </div>
        <ul v-if="current.marks.length" class="marks" aria-label="What stands out">
          <li v-for="m in current.marks" :key="m.what">
            <i class="flag"></i><b>{{ m.what }}</b
            >, {{ inWords(m.against) }}
          </li>
        </ul>
        <WeekPanel v-if="current.week" :week="current.week" />
        <PaperView v-else :document="current.documents[0]!.id" />
        <ReturnForm
          v-if="returning"
          :busy="busy"
          :many="subject.length"
          :reasons="reasons(current)"
          @back="back"
          @leave="returning = false"
        />
        <div class="doit">
          <v-btn class="go" :loading="busy" @click="approve"
            >Approve {{ picked.length ? picked.length : current.week ? `${hours(current.hours)} h` : '' }}&nbsp;<kbd
              >a</kbd
            ></v-btn
          >
          <v-btn @click="returning = true">Return&nbsp;<kbd>r</kbd></v-btn>
        </div>
      </section>
    </div>
  </div>
</template>

<style scoped>
.approve {
  grid-template-columns: minmax(0, 1fr) minmax(0, 31.25rem);
}
.key {
  gap: 10px;
}
.marks {
  list-style: none;
  margin: 0;
  padding: 8px 16px;
  border-bottom: 1px solid var(--rule);
  background: var(--ochre-wash);
  line-height: 1.25rem;
}
.doit {
  display: flex;
  gap: 8px;
  margin-top: auto;
  padding: 10px 16px 12px;
  border-top: 1px solid var(--rule);
  position: sticky;
  bottom: 0;
  background: var(--paper);
}
@media (max-width: 1180px) {
  .approve {
    grid-template-columns: minmax(0, 1fr) minmax(0, 26.5rem);
  }
}
</style>

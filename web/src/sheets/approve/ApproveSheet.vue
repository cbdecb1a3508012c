<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import SheetHead from '@/parts/SheetHead.vue'
import Trail from '@/parts/Trail.vue'
import TrailKey from '@/parts/TrailKey.vue'
import { addDays, counted, day, figure, hours, weekday } from '@/parts/figures'
import { useFooting } from '@/shell/footing'
import { typing } from '@/shell/keys'
import { useScope } from '@/shell/scope'
import DayComb from './DayComb.vue'

const scope = useScope()
const footing = useFooting()
const queries = useQueryClient()
const { data, error, isLoading } = useQuery({
  queryKey: ['approve', scope.query],
  queryFn: () => answered(client.GET('/api/approve', { params: { query: scope.query.value } })),
})

/** A row to decide on: a worker's week, or a paper. */
interface Row {
  key: string
  title: string
  sub: string
  group: string
  marks: Schema['Mark'][]
  entries: number[]
  documents: number[]
  week?: Schema['WaitingWeek']
  paper?: Schema['WaitingPaper']
}
const rows = computed<Row[]>(() => [
  ...(data.value?.weeks ?? []).map((w) => ({
    key: `w${w.workerId}-${w.week}`,
    title: w.worker,
    sub: w.trade,
    group: w.crew || 'Without a crew',
    marks: w.marks ?? [],
    entries: w.entryIds ?? [],
    documents: [],
    week: w,
  })),
  ...(data.value?.papers ?? []).map((p) => ({
    key: `d${p.documentId}`,
    title: p.title,
    sub: `${p.detail}, ${counted(p.lines, 'line')}`,
    group: 'Papers',
    marks: p.marks ?? [],
    entries: [],
    documents: [p.documentId],
    paper: p,
  })),
])
const chosen = ref(new Set<string>())
const at = ref(0)
const returning = ref(false)
const reason = ref('')
const said = ref('')
const busy = ref(false)
const reasonField = ref<HTMLInputElement>()
const current = computed(() => rows.value[at.value])
const picked = computed(() => rows.value.filter((r) => chosen.value.has(r.key)))
const subject = computed(() => (picked.value.length ? picked.value : current.value ? [current.value] : []))
const plain = computed(() => rows.value.filter((r) => !r.marks.length))

watchEffect(() => {
  if (!data.value) return
  footing.show(
    `${rows.value.length} waiting`,
    [
      { label: 'Hours', value: data.value.hours },
      { label: 'Cost', value: data.value.cost },
      { label: 'Charge', value: data.value.charge },
    ],
    picked.value.length ? `${picked.value.length} chosen of` : 'Footing',
  )
})

function toggle(row: Row) {
  const next = new Set(chosen.value)
  if (!next.delete(row.key)) next.add(row.key)
  chosen.value = next
}
async function decide(path: '/api/approve' | '/api/return') {
  said.value = ''
  busy.value = true
  const body = {
    entryIds: subject.value.flatMap((r) => r.entries),
    documentIds: subject.value.flatMap((r) => r.documents),
    reason: reason.value,
  }
  try {
    await answered(client.POST(path, { body }))
    chosen.value = new Set()
    returning.value = false
    reason.value = ''
    at.value = 0
    footing.saved()
  } catch (refused) {
    said.value = (refused as Error).message
  } finally {
    busy.value = false
    await queries.invalidateQueries()
  }
}
const more = computed(() => ({ weeks: data.value?.moreWeeks ?? 0, papers: data.value?.morePapers ?? 0 }))
function askWhy() {
  returning.value = true
  void nextTick(() => reasonField.value?.focus())
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (typing(event) || event.ctrlKey || event.metaKey || event.altKey) return
  const act = {
    ArrowDown: () => (at.value = Math.min(at.value + 1, rows.value.length - 1)),
    ArrowUp: () => (at.value = Math.max(at.value - 1, 0)),
    x: () => current.value && toggle(current.value),
    a: () => subject.value.length && decide('/api/approve'),
    r: () => subject.value.length && askWhy(),
  }[event.key]
  if (act) {
    event.preventDefault()
    void act()
  }
})
</script>

<template>
  <div class="sheet">
    <SheetHead title="Approve">
      <template #acts>
        <span v-if="said" class="said" role="alert">{{ said }}</span>
        <v-btn :disabled="!plain.length" @click="chosen = new Set(plain.map((r) => r.key))"
          >Choose the {{ plain.length }} without a mark</v-btn
        >
        <v-btn class="go" :loading="busy" :disabled="!subject.length" @click="decide('/api/approve')"
          >Approve {{ subject.length || '' }}</v-btn
        >
      </template>
    </SheetHead>
    <div class="split approve">
      <section>
        <p v-if="error && !data" class="said empty" role="alert">{{ error.message }}</p>
        <p v-else-if="isLoading" class="empty soft" role="status">Looking for what waits…</p>
        <div v-else-if="!rows.length" class="empty">
          <h2>Nothing waits here</h2>
          <p class="soft">Hours and papers come here when they are handed in. Look at another week, or at all dates.</p>
        </div>
        <div v-else class="scroll">
          <table class="ledger" aria-label="Waiting for approval">
            <colgroup>
              <col style="width: 42px" />
              <col />
              <col style="width: 70px" />
              <col style="width: 66px" />
              <col style="width: 190px" />
              <col style="width: 92px" />
              <col style="width: 92px" />
              <col style="width: 48px" />
            </colgroup>
            <thead>
              <tr>
                <th scope="col"><span class="sr">Choose</span></th>
                <th scope="col">Who, what</th>
                <th scope="col">Days</th>
                <th scope="col" class="num">Hours</th>
                <th scope="col">What stands out</th>
                <th scope="col" class="num money">Cost</th>
                <th scope="col" class="num">Charge</th>
                <th scope="col" class="mk">Trail</th>
              </tr>
            </thead>
            <tbody>
              <template v-for="(r, i) in rows" :key="r.key">
                <tr v-if="r.group !== rows[i - 1]?.group" class="group">
                  <td colspan="8">{{ r.group }}</td>
                </tr>
                <tr :class="{ open: i === at }" @click="at = i">
                  <td class="mk">
                    <input
                      type="checkbox"
                      class="box"
                      :checked="chosen.has(r.key)"
                      :aria-label="`Choose ${r.title}`"
                      @click.stop="toggle(r)"
                    />
                  </td>
                  <td>
                    <button class="two" @click="at = i">
                      <span class="strong">{{ r.title }}</span><small>{{ r.sub }}</small>
                    </button>
                  </td>
                  <td class="draw">
                    <DayComb v-if="r.week" :days="r.week.days ?? []" :limit="scope.choices.value?.company.dailyLimit" />
                  </td>
                  <td class="num">{{ r.week ? `${hours(r.week.hours)}` : '' }}</td>
                  <td>
                    <span v-for="m in r.marks" :key="m.what" class="two"
                      ><span class="strong"><i class="flag"></i>{{ m.what }}</span
                      ><small>{{ m.against }}</small></span
                    >
                  </td>
                  <td class="num money"><Amount :of="(r.week ?? r.paper)!.cost" /></td>
                  <td class="num"><Amount :of="(r.week ?? r.paper)!.charge" /></td>
                  <td class="mk"><Trail :trail="(r.week ?? r.paper)!.trail" /></td>
                </tr>
              </template>
            </tbody>
            <tfoot>
              <tr>
                <td></td>
                <th scope="row" colspan="2">
                  {{ counted((data?.weeks?.length ?? 0) + more.weeks, 'week') }},
                  {{ counted((data?.papers?.length ?? 0) + more.papers, 'paper') }}
                </th>
                <td class="num">{{ hours(data?.hours) }}</td>
                <td></td>
                <td class="num money"><Amount :of="data?.cost" /></td>
                <td class="num"><Amount :of="data?.charge" /></td>
                <td></td>
              </tr>
            </tfoot>
          </table>
          <p v-if="more.weeks + more.papers" class="empty soft">
            The oldest are listed; {{ counted(more.weeks, 'week') }} and {{ counted(more.papers, 'paper') }} more come
            when these are settled. Choose a time or a job to see others first.
          </p>
        </div>
        <div class="ruled"></div>
        <div class="key">
          <TrailKey /><span><kbd>a</kbd> approve</span><span><kbd>r</kbd> return</span><span><kbd>x</kbd> choose</span>
        </div>
      </section>
      <section v-if="current">
        <div class="title-row">
          <h2>{{ current.title }}</h2>
          <span class="soft">{{ current.sub }}</span><span v-if="current.week" class="end"
            >{{ hours(current.week.hours) }} h</span
          >
        </div>
        <table v-if="current.week" class="ledger">
          <thead>
            <tr>
              <th scope="col">Day</th>
              <th scope="col" class="num">Hours</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(h, i) in current.week.days" :key="i">
              <td>
                {{ weekday(addDays(current.week.week, i)) }}
                {{ day(addDays(current.week.week, i)).replace(/^\S+ /, '') }}
              </td>
              <td class="num">{{ figure(h) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-else class="empty">
          <router-link class="lnk" :to="{ path: '/costs', query: { open: String(current.documents[0]), span: 'all' } }"
            >Open the paper</router-link
          >
        </p>
        <p v-if="current.week" class="empty">
          <router-link class="lnk" :to="{ path: '/time', query: { from: current.week.week, crew: current.week.crew } }"
            >Open the crew sheet</router-link
          >
        </p>
        <form v-if="returning" class="form-row" @submit.prevent="decide('/api/return')">
          <label class="field wide"
            >Return, because<input ref="reasonField" v-model="reason" required @keydown.esc="returning = false"
          /></label>
          <v-btn class="warn" type="submit" :loading="busy"
            >Return {{ subject.length > 1 ? subject.length : '' }}</v-btn
          >
        </form>
        <div class="doit">
          <v-btn class="go" :loading="busy" @click="decide('/api/approve')">Approve&nbsp;<kbd>a</kbd></v-btn>
          <v-btn @click="askWhy">Return&nbsp;<kbd>r</kbd></v-btn>
        </div>
      </section>
    </div>
  </div>
</template>

<style scoped>
.approve {
  grid-template-columns: minmax(0, 1fr) minmax(0, 400px);
}
button.two {
  text-align: left;
  max-width: 100%;
}
.doit {
  display: flex;
  gap: 8px;
  margin-top: auto;
  padding: 10px 16px 12px;
  border-top: 1px solid var(--rule);
}
@media (max-width: 720px) {
  .approve {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>

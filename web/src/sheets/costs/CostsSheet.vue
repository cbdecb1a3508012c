<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch, watchEffect } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Await from '@/parts/Await.vue'
import SheetHead from '@/parts/SheetHead.vue'
import SureButton from '@/parts/SureButton.vue'
import Workings from '@/parts/Workings.vue'
import { useWorkings } from '@/parts/workings'
import { useAct } from '@/book/act'
import { useFooting } from '@/book/footing'
import { useMoney } from '@/book/money'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import { useUndo } from '@/book/undo'
import ComparePapers from './ComparePapers.vue'
import CostLines from './CostLines.vue'
import DocumentHead from './DocumentHead.vue'
import OwedList from './OwedList.vue'
import PaperList from './PaperList.vue'
import PaperSums from './PaperSums.vue'
import ScanStrip from './ScanStrip.vue'
import ScanView from '@/parts/ScanView.vue'
import StalePaper from './StalePaper.vue'
import VoidPaper from './VoidPaper.vue'
import { blankDocument, useDocument, type Document } from './document'
import { usePriceList } from './prices'
import { copyOf } from './unsaved'

const scope = useScope()
const owed = computed(() => scope.text('list') === 'owed')
const footing = useFooting()
const queries = useQueryClient()
const paper = useDocument()
const undo = useUndo()
const { typed, shown, wrong, said, busy, changed, locked, theirs } = paper
const prices = usePriceList(() => typed.value?.date ?? '')
const showWorkings = useWorkings(() => true)
const open = computed(() => scope.text('open'))
const gone = ref<number>()
/** Whether the paper is being made void. */
const voiding = ref(false)
watch(open, () => (voiding.value = false))
const session = useSession()
const mayVoid = computed(
  () =>
    session.can('approve') &&
    shown.value?.status === 'approved' &&
    !shown.value.void &&
    !shown.value.onInvoice &&
    !shown.value.paidBack &&
    !owed.value,
)
const { busy: deleting, said: kept, act } = useAct('papers')
async function remove() {
  const { id, version } = typed.value!
  const params = { path: { id: id! } }
  const done = await act(() => answered(client.POST('/api/costs/{id}/delete', { params, body: { version: version! } })))
  if (done === undefined) return
  typed.value = undefined
  void scope.change({ open: '' })
}
const largeScan = ref(false)
const scans = computed({
  get: () => typed.value?.attachments ?? [],
  set: (list) => {
    if (typed.value) typed.value = { ...typed.value, attachments: list }
    void queries.invalidateQueries({ queryKey: ['costs'] })
  },
})
/** The line that the Workings are of: the one last gone to, at first the first. */
const line = computed(() => (typed.value?.lines?.find((l) => l.id === gone.value) ?? typed.value?.lines?.[0])?.id)

const asked = useQuery({
  queryKey: ['costs', scope.query],
  queryFn: () => answered(client.GET('/api/costs', { params: { query: scope.query.value } })),
})
const list = asked.data
const money = useMoney(scope)
watchEffect(() => {
  if (money.sums.value && !owed.value) footing.show(`${scope.jobName.value}, ${scope.short.value}`, money.figures.value)
})
/** A paper that the open one may be the same as, side by side with it. */
const compared = ref(0)
watch(open, () => (compared.value = 0))
function keepOnly(id: number) {
  compared.value = 0
  if (typed.value?.id !== id) typed.value = undefined
  void choose(id)
}
const scanned = computed(() => largeScan.value && scans.value.length > 0 && !showWorkings.value)
const jobId = computed(() => scope.choices.value?.jobs?.find((j) => j.number === scope.job.value)?.id)
/** A new paper is of today, or of the period in sight where that is another. */
const newDate = computed(() => {
  const [today, from, to] = [scope.today.value, scope.from.value, scope.to.value]
  return (from && today < from) || (to && today > to) ? to || from : today
})
/** Why the paper that was chosen is not there. */
const notOpened = ref<Error>()
const again = ref(0)
const askedPaper = {
  data: ref(undefined),
  error: computed(() => notOpened.value ?? null),
  isFetching: ref(false),
  refetch: () => again.value++,
}
let turn = 0
watch(
  [open, list, again],
  async ([id], before) => {
    const mine = ++turn
    if (id === 'new') {
      // A paper that was just saved is on its way to an address of its own.
      if (!typed.value || (typed.value.id && before[0] !== 'new'))
        paper.open(paper.unsaved.fresh.value[0] ?? blankDocument(newDate.value, jobId.value))
      return
    }
    const wanted = Number(id) || list.value?.documents?.[0]?.id
    // What was saved a moment ago is in hand, and so is what is being typed.
    if (!wanted || (typed.value?.id === wanted && (changed.value || before[0] === 'new'))) return
    // What another window of the same person types is no news here: it is taken up where a paper is opened, and then only.
    const opened = id !== before[0] || typed.value?.id !== wanted
    const had = typed.value
    notOpened.value = undefined
    const found = await answered(client.GET('/api/costs/{id}', { params: { path: { id: wanted } } })).catch(
      (refused: Error) => refused,
    )
    if (found instanceof Error) {
      if (mine === turn) notOpened.value = found
      return
    }
    // An answer that comes late opens nothing over what has been opened or typed since.
    const since = typed.value?.id === wanted && (changed.value || busy.value)
    if (mine === turn && !since && (typed.value === had || typed.value?.id === wanted)) paper.open(found, opened)
  },
  { immediate: true },
)
const choose = (id: number | 'new') => scope.change({ open: String(id), list: '' })
function openScan() {
  largeScan.value = !largeScan.value
  showWorkings.value = false
}
async function keep(act: () => Promise<{ id?: number } | undefined>) {
  const saved = await act()
  if (saved?.id) void choose(saved.id)
}
/** The paper that a scan is put to: it is saved first where it is not yet. */
async function ready() {
  if (typed.value && !typed.value.id) await keep(paper.save)
  return typed.value?.id
}
/** The kind of cost and the code that a supplier's lines usually have go on lines that are still empty. */
async function usual() {
  const { supplier, lines, id } = typed.value!
  if (!supplier || id) return
  const habit = await answered(client.GET('/api/costs/habit', { params: { query: { supplier } } })).catch(
    () => undefined,
  )
  for (const line of lines ?? [])
    if (habit?.category && !line.description && !line.unitCost)
      Object.assign(line, { category: habit.category, costCodeId: habit.costCodeId })
}
const categoryOf: Record<Schema['Document']['kind'], string> = {
  supplier_invoice: 'material',
  receipt: 'material',
  claim: 'expense',
  mileage: 'mileage',
  plant: 'equipment',
}
/** Lines of a log that are still empty begin with the kind of cost it is of, and with its rate where there is one. */
function begin() {
  const category = categoryOf[typed.value!.kind]
  const lines = typed.value!.lines ?? []
  for (const line of lines) if (!line.description && !line.unitCost && !line.itemId) line.category = category
  const rate = prices.only(category)
  if (lines[0] && rate && category === 'mileage' && !lines[0].description) prices.take(lines[0], rate.description)
  paper.edited()
}
/** A paper that was typed and never saved. */
function resume(d: Document) {
  paper.open(d)
  void choose('new')
}
async function drop() {
  const dropped = copyOf(typed.value!)
  const go = async () => {
    const done = await paper.drop()
    if (done && !typed.value) void scope.change({ open: '' })
    return done
  }
  if (!(await go())) return
  undo.did({
    what: `changes to the paper of ${dropped.supplier || 'nobody yet'} dropped`,
    undo: () => {
      paper.unsaved.keep(dropped)
      paper.open(dropped)
      void choose(dropped.id ?? 'new')
      return undefined
    },
    redo: () => {
      paper.open(dropped)
      void go()
      return undefined
    },
  })
}
function fresh() {
  paper.open(blankDocument(newDate.value, jobId.value))
  void choose('new')
}
</script>

<template>
  <div class="sheet">
    <SheetHead title="Costs" :bare="owed">
      <span class="words">
        <button :aria-pressed="!owed" @click="scope.change({ list: '' })">Papers</button>
        <button :aria-pressed="owed" @click="scope.change({ list: 'owed', open: '' })">To reimburse</button>
      </span>
      <template #acts>
        <span v-if="said || kept" class="said" role="alert">{{ said || kept }}</span>
        <v-btn v-if="typed?.id && !owed" :aria-pressed="showWorkings" @click="showWorkings = !showWorkings"
          >Workings</v-btn
        >
        <v-btn v-if="typed?.id && shown?.alike?.length && !owed && !changed" @click="compared = shown.alike[0]!"
          >Compare the two</v-btn
        >
        <v-btn v-if="mayVoid && !voiding" @click="voiding = true">Void paper</v-btn>
        <template v-if="typed && !locked && !owed">
          <SureButton
            v-if="typed.id && !changed"
            label="Delete"
            sure="Its lines and scans are deleted. What it was stays in the history."
            :busy="deleting"
            @sure="remove"
          />
          <v-btn v-if="changed" @click="drop">Drop changes</v-btn>
          <v-btn :loading="busy" :disabled="!changed" @click="keep(paper.save)">Save</v-btn>
          <v-btn
            v-if="typed.status !== 'submitted' || changed"
            :loading="busy"
            @click="keep(() => paper.handIn((saved) => choose(saved.id!)))"
            >Hand in</v-btn
          >
        </template>
        <v-btn class="go" @click="fresh">New paper</v-btn>
      </template>
    </SheetHead>
    <OwedList v-if="owed" />
    <div v-else class="split costs" :class="{ three: showWorkings, scanned }">
      <PaperList :asked="asked" :unsaved="paper.unsaved" :open="typed" @choose="choose" @resume="resume" />
      <ComparePapers
        v-if="compared && typed?.id"
        :ids="[typed.id, compared]"
        @close="compared = 0"
        @deleted="keepOnly"
      />
      <section v-else>
        <template v-if="typed && scope.choices.value">
          <StalePaper
            v-if="theirs"
            :mine="typed"
            :theirs="theirs"
            @theirs="paper.takeTheirs"
            @mine="keep(paper.saveMine)"
          />
          <VoidPaper v-if="voiding && mayVoid && shown" :key="shown.id" :paper="shown" @close="voiding = false" />
          <fieldset :disabled="!!locked" @input="paper.edited" @change="paper.edited">
            <legend class="sr">Paper</legend>
            <DocumentHead
              v-model="typed"
              :shown="shown"
              :wrong="wrong"
              :choices="scope.choices.value"
              :suppliers="list?.suppliers ?? []"
              :locked="locked"
              @edited="paper.edited"
              @kind="begin"
              @supplier="usual"
            />
            <CostLines
              v-model="typed"
              :shown="shown"
              :wrong="wrong"
              :choices="scope.choices.value"
              :locked="locked"
              :prices="prices"
              :narrow="scanned"
              @edited="paper.edited"
              @line="gone = $event"
              @workings="showWorkings = true"
            />
          </fieldset>
          <PaperSums
            v-model="typed.printed"
            :shown="shown"
            :narrow="scanned"
            :locked="locked"
            :wrong="wrong.printed"
            @edited="paper.edited"
          >
            <ScanStrip
              v-model="scans"
              :version="typed.version ?? 0"
              :locked="locked"
              :large="largeScan"
              :ready="ready"
              @large="openScan"
            />
          </PaperSums>
        </template>
        <Await v-else-if="notOpened" :of="askedPaper" what="the paper" />
        <div v-else-if="list" class="empty">
          <h2>No paper is open</h2>
          <p class="soft">Choose one at the left, or enter a new one.</p>
        </div>
      </section>
      <Workings
        v-if="showWorkings"
        :of="line ? { kind: 'line', id: line } : undefined"
        ask="Go to a saved line to see how its landed cost and charge came about."
        @close="showWorkings = false"
      />
      <section v-else-if="scanned" class="large" aria-label="The scan, large">
        <template v-for="scan in scans" :key="scan.id"><ScanView :scan="scan" large /></template>
      </section>
    </div>
  </div>
</template>

<style scoped>
.costs {
  grid-template-columns: 17.75rem minmax(0, 1fr);
}
.three {
  grid-template-columns: minmax(0, 1fr) 18.75rem;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  min-width: 0;
}
.scanned {
  grid-template-columns: minmax(0, 1fr) minmax(22.5rem, 40%);
}
.large {
  overflow: auto;
  padding: 12px;
  display: grid;
  gap: 12px;
  align-content: start;
}
.three > section,
.scanned > section:first-of-type + section {
  border-left: 0;
}
.three > .list,
.scanned > .list {
  display: none; /* the Workings and a large scan are of the paper that is open, and take the list's place */
}
@media (max-width: 1180px) {
  .costs:not(.three, .scanned) {
    grid-template-columns: 14.125rem minmax(0, 1fr);
  }
}
</style>

<script setup lang="ts">
import { mdiCamera } from '@mdi/js'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { show } from '@/api/keys'
import { useAct } from '@/book/act'
import Await from '@/parts/Await.vue'
import FigureInput from '@/parts/FigureInput.vue'
import OrMeant from '@/parts/OrMeant.vue'
import Icon from '@/parts/Icon.vue'
import { figure } from '@/parts/figures'
import { scanAddress, sendScan } from '@/parts/scans'

/** What a foreman notes of a crew's day beside its hours: plant on its jobs, a note, and pictures. No money is in it. */
const props = defineProps<{ date: string; crew: string; job: number; jobs: { id: number; number: string }[] }>()
type Log = Schema['Log']
const queries = useQueryClient()
const queryKey = computed(() => ['time-day', 'log', props.date, props.crew])
const asked = useQuery({
  queryKey,
  queryFn: () =>
    answered(client.GET('/api/time/day-log', { params: { query: { date: props.date, crew: props.crew } } })),
})
const log = computed(() => asked.data.value)
const { busy, said, wrong, current, act, once } = useAct('papers')

const typed = ref<{ note: string; plant: Schema['Plant'][] }>({ note: '', plant: [] })
const kept = (of?: Log) => ({ note: of?.note ?? '', plant: (of?.plant ?? []).map((p) => ({ ...p })) })
const dirty = computed(() => JSON.stringify(typed.value) !== JSON.stringify(kept(log.value)))
let shownFor = ''
watch(
  log,
  (now, had) => {
    const day = `${props.date} ${props.crew}`
    // What is typed stays where the book is read again; another day has its own.
    if (shownFor !== day || JSON.stringify(typed.value) === JSON.stringify(kept(had))) typed.value = kept(now)
    shownFor = day
  },
  { immediate: true },
)
const itemOf = (id: number) => log.value?.items?.find((i) => i.id === id)
const jobOf = (id: number) => props.jobs.find((j) => j.id === id)?.number ?? ''
const summary = computed(
  () =>
    typed.value.plant
      .filter((p) => p.quantity)
      .map((p) =>
        `${itemOf(p.itemId)?.description ?? 'plant'} ${figure(p.quantity)} ${itemOf(p.itemId)?.unit ?? ''}`.trim(),
      )
      .join(', ') || 'none yet',
)
const open = ref(false)
const doubt = ref<{ of: number; other: string }>()
function add(event: Event) {
  const field = event.target as HTMLSelectElement
  if (field.value) typed.value.plant.push({ itemId: Number(field.value), jobId: props.job, quantity: '1' })
  field.value = ''
}
const wrongOf = (i: number) => Object.entries(wrong.value).find(([path]) => path.startsWith(`lines[${i}].`))?.[1] ?? ''

async function save(): Promise<number | undefined> {
  const { date, crew } = props
  const key = queryKey.value
  const answer = await once({ date, crew, version: log.value?.version ?? 0, ...typed.value }, (body) =>
    answered(client.PUT('/api/time/day-log', { body })),
  )
  if (answer) {
    typed.value = kept(answer)
    show(queries, key, answer)
    told.value = answer.plant?.length ? 'Saved, and the plant is handed in' : 'Saved'
  } else if (current.value) {
    show(queries, key, current.value as Log)
  }
  return answer?.documentId
}
const told = ref('')
watch(
  () => [props.date, props.crew],
  () => (told.value = ''),
)

const field = ref<HTMLInputElement>()
const sending = ref(false)
/** A picture belongs to the day's paper, which is made with the first of them. */
async function attach() {
  const files = [...(field.value?.files ?? [])]
  if (field.value) field.value.value = ''
  told.value = ''
  const id = log.value?.documentId ?? (await save())
  if (!id) return
  sending.value = true
  for (const file of files) await act(() => sendScan(id, file))
  sending.value = false
  void queries.invalidateQueries({ queryKey: queryKey.value })
}
</script>

<template>
  <section class="day-log" aria-label="Plant, note and pictures">
    <Await :of="asked" what="plant and pictures" />
    <form v-if="log" @submit.prevent="save">
      <button type="button" class="fold" :aria-expanded="open" @click="open = !open">
        <b>Plant and note</b><small class="soft">{{ summary }}</small>
      </button>
      <div v-if="open" class="plant">
        <p v-if="log.locked" class="soft">This can't be changed: {{ log.locked }}</p>
        <template v-for="(p, i) in typed.plant" :key="i">
          <div class="used">
            <span
              >{{ itemOf(p.itemId)?.description ?? 'Plant' }} <small class="soft">on {{ jobOf(p.jobId) }}</small></span
            >
            <FigureInput
              v-model="p.quantity"
              class="much"
              :aria-label="`${itemOf(p.itemId)?.description}, how much`"
              :aria-invalid="!!wrongOf(i)"
              :readonly="!!log.locked"
              @doubt="doubt = $event ? { of: i, other: $event } : undefined"
            />
            <span class="soft">{{ itemOf(p.itemId)?.unit }}</span>
            <OrMeant
              v-if="doubt?.of === i"
              :other="doubt.other"
              @meant="((p.quantity = $event), (doubt = undefined))"
            />
            <button
              type="button"
              :disabled="!!log.locked"
              :aria-label="`Remove ${itemOf(p.itemId)?.description}`"
              @click="typed.plant.splice(i, 1)"
            >
              ×
            </button>
          </div>
          <p v-if="wrongOf(i)" class="said" role="alert">{{ wrongOf(i) }}</p>
        </template>
        <select v-if="!log.locked && log.items?.length" aria-label="Add plant" class="add" @change="add">
          <option value="">Add plant…</option>
          <option v-for="item in log.items" :key="item.id" :value="item.id">{{ item.description }}</option>
        </select>
        <p v-else-if="!log.items?.length" class="soft">
          There is no plant on the price list yet; the office adds it in Setup, prices.
        </p>
        <label class="note"
          ><span>Note</span><textarea v-model="typed.note" rows="2" :readonly="!!log.locked"></textarea>
        </label>
        <v-btn v-if="dirty" type="submit" :loading="busy">Save plant and note</v-btn>
      </div>
      <div class="pictures">
        <a v-for="p in log.pictures" :key="p.id" :href="scanAddress(p)" target="_blank" rel="noopener"
          ><img v-if="p.media !== 'application/pdf'" :src="scanAddress(p)" :alt="p.name" loading="lazy" /><span
            v-else
            >{{ p.name }}</span
          ></a
        >
        <label class="picture" :class="{ busy: sending }"
          ><Icon :path="mdiCamera" :size="18" /> {{ sending ? 'Sending…' : 'Picture'
          }}<input
            ref="field"
            class="sr"
            type="file"
            accept="image/png,image/jpeg"
            multiple
            :disabled="!!log.locked || sending"
            @change="attach"
        /></label>
      </div>
      <p class="told" role="status">{{ told }}</p>
      <p v-if="said" class="said" role="alert">{{ said }}</p>
    </form>
  </section>
</template>

<style scoped>
.day-log {
  border-bottom: 1px solid var(--rule);
}
.fold {
  width: 100%;
  min-height: 3rem;
  padding: 6px 16px;
  text-align: left;
  line-height: 1.1875rem;
  border-bottom: 1px solid var(--rule);
}
.fold > * {
  display: block;
}
.plant {
  display: grid;
  gap: 8px;
  padding: 8px 16px;
}
.used {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 4.5rem 2.5rem 2.75rem;
  gap: 8px;
  align-items: center;
}
.used button,
.plant .v-btn,
.much,
.add {
  height: 2.75rem;
}
.much {
  border: 1.5px solid var(--ink-soft);
  background: var(--paper);
  padding: 0 6px;
  font-weight: 640;
}
.add,
textarea {
  width: 100%;
  border: 1.5px solid var(--rule-strong);
  background: var(--paper);
  padding: 4px 8px;
}
.note > span {
  color: var(--ink-soft);
  font-size: 0.75rem;
}
.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  padding: 8px 16px;
}
.pictures > * {
  height: 3.375rem;
  min-width: 4.5rem;
  border: 1px solid var(--rule-strong);
  display: grid;
  place-items: center;
  overflow: hidden;
}
.pictures img {
  width: 4.5rem;
  height: 100%;
  object-fit: cover;
}
.picture {
  flex: 1;
  grid-auto-flow: column;
  justify-content: center;
  gap: 8px;
  font-weight: 600;
}
.picture:focus-within {
  outline: 2px solid var(--denim);
}
.told,
.said {
  padding: 0 16px;
}
</style>

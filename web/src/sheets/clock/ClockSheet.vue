<script setup lang="ts">
import { useNow } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import FormField from '@/parts/FormField.vue'
import { capital, day } from '@/parts/figures'
import { inWordsOf, useClockQueue, workingAfter } from './kept'
import { clockHours, placeKey, showOwn, useOwnHours, type OwnPlace } from './own'
import OwnPage from './OwnPage.vue'

/** The clock: in and out, and the worker's own week under it. Made for a phone. */
const week = ref('')
const own = useOwnHours(() => week.value)
const { data, said } = own
const queue = useClockQueue(own.came, (pressed, why) => {
  if (pressed.step !== 'out' || !why.at('finish')) return false
  said.value = why.message
  asksFinish.value = true
  return true
})
const { busy } = queue
const refused = computed(() => queue.items.value.filter((i) => i.said))
const chosen = ref('')
const finish = ref('')
const asksFinish = ref(false)
const now = useNow({ interval: 10_000 })
const loaded = ref(Date.now())
watch(data, () => (loaded.value = Date.now()))

const sinceLoad = computed(() => Math.max(0, Math.floor((now.value.getTime() - loaded.value) / 60_000)))
const working = computed(() => workingAfter(data.value?.working, queue.waiting.value, now.value))
const minutes = computed(() =>
  !working.value
    ? 0
    : working.value.minutes + (working.value.onBreak || working.value !== data.value?.working ? 0 : sinceLoad.value),
)
const places = computed(() => data.value?.places ?? [])
const place = computed<OwnPlace | undefined>(
  () => places.value.find((p) => placeKey(p) === chosen.value) ?? places.value[0],
)
const timeNow = computed(() => clockHours(((data.value?.now ?? 0) + sinceLoad.value) % 1440))
watch([data, minutes], () => data.value && showOwn(data.value, minutes.value), { immediate: true })
watch(places, (all) => (chosen.value ||= all[0] ? placeKey(all[0]) : ''), { immediate: true })

function clockIn() {
  if (place.value) void queue.press({ step: 'in', place: place.value })
}
/** The second click of two is not for the button that took the place of the first. */
const once = (click: MouseEvent) => click.detail > 1 && click.stopPropagation()
const pause = (on: boolean) => queue.press({ step: 'break', on })
async function clockOut() {
  said.value = ''
  asksFinish.value = false
  await queue.press({ step: 'out', finish: finish.value })
  if (!asksFinish.value) finish.value = ''
}
</script>

<template>
  <OwnPage v-model:week="week" title="Clock" :own="own">
    <template #above>
      <p class="soft since" role="status">
        <template v-if="working"
          >{{ working.onBreak ? 'On a break; working' : 'Working' }} since {{ working.since }},
          {{ day(working.date) }}</template
        >
        <template v-else>Not at work</template>
      </p>
      <p class="big">
        {{ working ? clockHours(minutes) : '0:00' }} <small class="soft">now {{ timeNow }}</small>
      </p>
      <label v-if="!working" class="job">
        <span class="sr">Job</span>
        <select v-model="chosen" :disabled="!places.length">
          <option v-if="!places.length" value="">No job of your crew yet; ask your foreman</option>
          <option v-for="p in places" :key="placeKey(p)" :value="placeKey(p)">
            {{ p.job }}{{ p.detail ? `, ${p.detail}` : '' }}
          </option>
        </select>
      </label>
      <p v-else class="job">
        <b>{{ working.place.job }}</b><small
          >{{ working.place.detail }}{{ working.break ? `, ${working.break} min of break` : '' }}</small
        >
      </p>
    </template>
    <template #acts>
      <p v-if="queue.waiting.value.length && !busy" class="keeps" role="status">
        Kept on this phone, and sent when there is a connection: {{ queue.waiting.value.map(inWordsOf).join(', ') }}.
      </p>
      <p v-for="i in refused" :key="i.key" class="said keeps" role="alert">
        {{ capital(inWordsOf(i)) }} was refused: {{ i.said }}.
        <button class="lnk" @click="queue.putAway(i.key)">Put away</button>
      </p>
      <FormField v-if="asksFinish && working" v-model="finish" label="When did you finish? Such as 3:30" />
      <div class="acts" @click.capture="once">
        <template v-if="working">
          <v-btn :disabled="busy" @click="pause(!working.onBreak)">{{
            working.onBreak ? 'Back to work' : 'Break'
          }}</v-btn>
          <v-btn class="go" :disabled="busy" @click="clockOut">Clock out</v-btn>
        </template>
        <v-btn v-else class="go" :disabled="busy || !place" @click="clockIn">Clock in</v-btn>
      </div>
    </template>
  </OwnPage>
</template>

<style scoped>
.big {
  font-size: 3.875rem;
  line-height: 4.5rem;
  font-weight: 480;
}
.big small {
  font-size: 0.9375rem;
}
.job {
  display: block;
  border-bottom: 1.5px solid var(--ink);
  padding: 8px 0;
}
.job select {
  width: 100%;
  height: 2.75rem;
  border: 0;
  background: none;
  font-size: 1rem;
  font-weight: 640;
}
.job b {
  font-size: 1rem;
}
.job small {
  display: block;
  color: var(--ink-soft);
}
.keeps {
  padding-top: 10px;
}
.acts {
  display: flex;
  gap: 10px;
  padding: 16px 0 20px;
}
.acts > * {
  height: 3.25rem;
  flex: 1;
  font-size: 1rem;
}
.acts > .go {
  flex: 2;
}
</style>

<script setup lang="ts">
import { useNow } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answered, client, newKey } from '@/api/client'
import FormField from '@/parts/FormField.vue'
import { day } from '@/parts/figures'
import { clockHours, placeKey, showOwn, useOwnHours, type OwnPlace } from './own'
import OwnPage from './OwnPage.vue'

/** The clock: in and out, and the worker's own week under it. Made for a phone. */
const week = ref('')
const own = useOwnHours(() => week.value)
const { data, run, busy } = own
const chosen = ref('')
const finish = ref('')
const asksFinish = ref(false)
const now = useNow({ interval: 10_000 })
const loaded = ref(Date.now())
watch(data, () => (loaded.value = Date.now()))

const sinceLoad = computed(() => Math.max(0, Math.floor((now.value.getTime() - loaded.value) / 60_000)))
const working = computed(() => data.value?.working)
const minutes = computed(() =>
  working.value ? working.value.minutes + (working.value.onBreak ? 0 : sinceLoad.value) : 0,
)
const places = computed(() => data.value?.places ?? [])
const place = computed<OwnPlace | undefined>(
  () => places.value.find((p) => placeKey(p) === chosen.value) ?? places.value[0],
)
const timeNow = computed(() => clockHours(((data.value?.now ?? 0) + sinceLoad.value) % 1440))
watch([data, minutes], () => data.value && showOwn(data.value, minutes.value), { immediate: true })
watch(places, (all) => (chosen.value ||= all[0] ? placeKey(all[0]) : ''), { immediate: true })

function clockIn() {
  const p = place.value
  if (!p) return
  const body = { key: newKey(), jobId: p.jobId, phaseId: p.phaseId, costCodeId: p.costCodeId }
  void run(() => answered(client.POST('/api/clock/in', { body })))
}
const pause = (on: boolean) => run(() => answered(client.POST('/api/clock/break', { body: { on } })))
async function clockOut() {
  if (await run(() => answered(client.POST('/api/clock/out', { body: { finish: finish.value } })))) {
    finish.value = ''
    asksFinish.value = false
  } else asksFinish.value = true
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
      <FormField v-if="asksFinish && working" v-model="finish" label="When did you finish? Such as 3:30" />
      <div class="acts">
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

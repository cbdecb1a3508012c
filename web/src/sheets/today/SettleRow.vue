<script setup lang="ts">
import { computed, nextTick, onMounted, reactive, ref } from 'vue'
import type { Schema } from '@/api/client'
import { addressOf } from '@/parts/addresses'
import FormField from '@/parts/FormField.vue'
import Pick from '@/parts/Pick.vue'
import { usePlaces } from '@/parts/places'
import { filledFor, type Filled, type LooseEnd } from './settle'

/** A loose end opened in place: the one step that settles it, or why it is none. */
const props = defineProps<{
  end: LooseEnd
  ends: LooseEnd[]
  choices: Schema['Choices']
  busy: boolean
  said: string
  may: boolean
}>()
const emit = defineEmits<{ settle: [filled: Filled]; aside: [reason: string]; close: [] }>()
const filled = reactive(filledFor(props.end, props.ends))
const reason = ref('')
const box = ref<HTMLElement>()
const places = usePlaces(() => props.choices)
const kind = computed(() => props.end.kind)
const usual: Record<string, string[]> = {
  hole: ['day off', 'ill', 'other work'],
  twice: ['two deliveries, one number'],
  over: ['a change order is on its way'],
  below: ['agreed with the customer'],
  no_budget: ['too small for a budget'],
  short: ['the contract of the job is to follow'],
  limit: ['the customer is asked for more'],
}
const go: Record<string, string> = {
  hole: 'Fill in hours',
  not_handed_in: 'Hand in week',
  no_code: 'Set cost code on all',
  no_job: 'Book to this job',
  no_wage: 'Save wage',
  no_rate: 'Save rate',
  no_markup: 'Save markup',
  late: 'Make draft of all that is ready',
}
onMounted(() => nextTick(() => box.value?.querySelector<HTMLElement>('input, select, button')?.focus()))
</script>

<template>
  <div ref="box" class="settle" @keydown.esc.stop="emit('close')">
    <form v-if="may" :aria-label="`Settle: ${end.title}, ${end.where}`" @submit.prevent="emit('settle', filled)">
      <FormField v-if="kind === 'hole'" v-model="filled.hours" label="Hours" kind="number" class="tiny" />
      <Pick
        v-if="kind === 'hole' || kind === 'no_job'"
        v-model="filled.job"
        label="Job"
        :items="places.jobs.value"
        class="job"
      />
      <Pick
        v-if="kind === 'hole' || kind === 'no_job' || kind === 'no_code'"
        v-model="filled.code"
        label="Cost code"
        :items="places.codes.value"
        class="code"
      />
      <template v-if="kind === 'no_wage' || kind === 'no_rate' || kind === 'no_markup'">
        <FormField
          v-model="filled.value"
          :label="kind === 'no_markup' ? 'Markup, %' : kind === 'no_wage' ? 'Wage an hour' : 'Price an hour'"
          :kind="kind === 'no_markup' ? 'percent' : 'money'"
          class="short"
        />
        <FormField
          v-if="kind === 'no_rate' && end.trade"
          v-model="filled.whom"
          label="For"
          kind="choice"
          :options="[
            ['trade', `every ${end.trade}`],
            ['worker', `${end.where} alone`],
          ]"
        />
        <FormField v-model="filled.from" label="From" kind="date" class="date" />
      </template>
      <v-btn class="small go" type="submit" :loading="busy">{{ go[kind] }}</v-btn>
    </form>
    <form v-if="end.aside" class="none" aria-label="Set aside" @submit.prevent="emit('aside', reason)">
      <label class="field why"
        >{{ may ? 'or set it aside, because' : 'Set it aside, because'
        }}<input v-model="reason" required :list="`why-${kind}`"
      /></label>
      <datalist :id="`why-${kind}`"><option v-for="u in usual[kind]" :key="u" :value="u" /></datalist>
      <v-btn class="small" type="submit" :loading="busy">Set aside</v-btn>
    </form>
    <p v-if="said" class="said" role="alert">{{ said }}</p>
    <p class="out">
      <router-link class="lnk" :to="addressOf(end.link)">{{ may ? 'Open it' : end.step }}</router-link>
      <button class="soft" @click="emit('close')">close <kbd>Esc</kbd></button>
    </p>
  </div>
</template>

<style scoped>
.settle {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  align-items: flex-end;
  padding: 8px 12px 10px;
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: flex-end;
}
.tiny {
  width: 3.5rem;
}
.short {
  width: 5.75rem;
}
.date {
  width: 7.5rem;
}
.job {
  width: 11.875rem;
}
.code {
  width: 8.75rem;
}
.why {
  width: 10.625rem;
}
.out {
  display: flex;
  gap: 16px;
  margin-left: auto;
}
.said {
  flex-basis: 100%;
}
</style>

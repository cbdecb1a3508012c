<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import Await from '@/parts/Await.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import { counted, figure, shortDay, sumOf } from '@/parts/figures'

/** What a limit holds back of a job, to be let go beyond it piece by piece, or brought back within it. */
const props = defineProps<{ job: string }>()
const emit = defineEmits<{ close: [] }>()
type Held = Schema['HeldSource']
const on = () => ({ params: { path: { number: props.job } } })
const asked = useQuery({
  queryKey: ['bill', 'held', () => props.job],
  queryFn: () => answered(client.GET('/api/jobs/{number}/held', on())),
})
const keyOf = (h: Held) => `${h.kind} ${h.id}`
const chosen = ref<string[]>([])
const picked = computed(() => (asked.data.value ?? []).filter((h) => chosen.value.includes(keyOf(h))))
/** Those that were let go are brought back, the others let go; never both at once. */
const back = computed(() => picked.value.length > 0 && picked.value.every((h) => h.letGo))
const mixed = computed(() => picked.value.some((h) => h.letGo) && !back.value)
const form = useForm({
  blank: () => ({ note: '' }),
  change: 'everything',
  send: ({ note }) => {
    const sources = picked.value.map(({ kind, id, left }) => ({ kind, id, left }))
    return answered(client.PUT('/api/jobs/{number}/held', { ...on(), body: { sources, note, back: back.value } }))
  },
  done: () => (chosen.value = []),
})
const submit = computed(() => (back.value ? 'Keep within the limit' : 'Let go beyond the limit'))
</script>

<template>
  <Await v-slot="{ data }" :of="asked" what="what is held back">
    <FormCard
      :form="form"
      :label="`Held back of job ${job}`"
      :submit="submit"
      :idle="!picked.length || mixed"
      cancel="Close"
      @cancel="emit('close')"
    >
      <fieldset class="held">
        <legend class="sr">Work that is held back</legend>
        <label v-for="h in data" :key="keyOf(h)">
          <input v-model="chosen" type="checkbox" :value="keyOf(h)" />
          <span class="strong">{{ h.text }}</span>
          <span class="soft">{{ [shortDay(h.date), h.detail, h.quantity].filter(Boolean).join(' · ') }}</span>
          <span v-if="h.letGo" class="warnword">let go{{ h.note ? `: ${h.note}` : '' }}</span>
          <b class="n">{{ figure(h.letGo ? h.left : h.held) }}</b>
        </label>
      </fieldset>
      <p v-if="data?.length === 500" class="soft">These are the first 500; let some go to see more.</p>
      <FormField v-if="!back" label="Why" name="note" size="wide" />
      <template #after
        ><span v-if="mixed" class="said">Choose either what is held or what was let go.</span
        ><span v-else-if="picked.length" class="soft"
          >{{ counted(picked.length, 'source') }}, {{ figure(sumOf(picked.map((h) => h.left))) }}</span
        ></template
      >
    </FormCard>
  </Await>
</template>

<style scoped>
.held {
  flex: 1 1 100%;
  border: 0;
  padding: 0;
  max-height: 12rem;
  overflow: auto;
}
.held label {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 3px 0;
}
.n {
  margin-left: auto;
}
</style>

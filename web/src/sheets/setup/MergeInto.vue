<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Schema } from '@/api/client'
import { useAct } from '@/book/act'
import Pick from '@/parts/Pick.vue'
import SureButton from '@/parts/SureButton.vue'
import { inSentence } from '@/parts/edit'
import { capital, inWords } from '@/parts/figures'

interface Known {
  id: number
  name: string
  version: number
}

/** Makes a record one with another that it turned out to be: what that alters is said first. */
const props = defineProps<{
  goes: Known
  all: Known[]
  sub: (of: number) => string
  sure: string
  send: (id: number, body: Schema['Merge'], query: { try?: boolean }) => Promise<Schema['Altered']>
}>()
const emit = defineEmits<{ merged: [] }>()
const into = ref<number>()
const alters = ref('')
const { busy, said, clear, act } = useAct()
const others = computed(() =>
  props.all.filter((o) => o.id !== props.goes.id).map((o) => ({ id: o.id, title: o.name, sub: props.sub(o.id) })),
)
function ask(query: { try?: boolean }) {
  const stays = props.all.find((o) => o.id === into.value)!
  return props.send(props.goes.id, { version: props.goes.version, into: stays.id, intoVersion: stays.version }, query)
}
watch(
  () => props.goes.id,
  () => (into.value = undefined),
)
watch(into, async (chosen) => {
  alters.value = ''
  clear()
  if (!chosen) return
  const sentence = await ask({ try: true }).then(inSentence, (why: Error) => capital(inWords(why.message)))
  if (into.value === chosen) alters.value = sentence
})
async function merge() {
  if ((await act(() => ask({}))) === undefined) return
  into.value = undefined
  emit('merged')
}
</script>

<template>
  <div class="form-row merge">
    <Pick v-model="into" label="Is the same as" :items="others" />
    <SureButton label="Merge" :sure="sure" :busy="busy" :disabled="!alters" @sure="merge" />
    <span v-if="said" class="said" role="alert">{{ said }}</span>
    <p class="soft alters" role="status">{{ alters }}</p>
  </div>
</template>

<style scoped>
.merge {
  border-top: 1px dotted var(--rule-strong);
}
.merge > .field {
  width: 17rem;
}
.alters {
  flex-basis: 100%;
  min-height: 1.25rem;
}
</style>

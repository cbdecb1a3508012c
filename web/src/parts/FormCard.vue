<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { provideForm, toFirstWrong, type Form } from '@/book/form'
import { leaving, mayDiscard } from '@/book/leaving'
import { figure, longDay } from './figures'

/** A form in place: its fields, the button that says what it does, and what is wrong with it as a whole. */
const props = defineProps<{
  form: Form
  label: string
  submit: string
  cancel?: string
  /** There is nothing to send yet. */
  idle?: boolean
}>()
const emit = defineEmits<{ cancel: [] }>()
const labels = provideForm(props.form)
const element = ref<HTMLElement>()
onBeforeUnmount(leaving(() => props.form.dirty))
/** One that opens below the edge of the window is brought into sight. */
onMounted(() => element.value?.scrollIntoView?.({ block: 'nearest' }))
/** Whether a field of the form says what is wrong under a path. */
const isDrawn = (path: string) => labels.has(path) || labels.has(path.slice(0, path.indexOf('[') + 1))
/** What no field says. */
const general = computed(() => {
  const paths = Object.keys(props.form.wrong)
  const unsaid = paths.filter((path) => !isDrawn(path)).map((path) => props.form.wrong[path])
  return paths.length ? unsaid.join('. ') : props.form.said
})
const writes: Record<string, (text: string) => string> = {
  money: figure,
  number: figure,
  percent: figure,
  date: longDay,
  text: String,
  email: String,
}
/** What somebody else has changed, as it is called here, with what it is now where that is a word or a figure. */
const theirs = computed(() => Object.entries(props.form.theirs))
const changed = computed(() => {
  const called = theirs.value.flatMap(([name, now]) => {
    const field = labels.get(name) ?? labels.get(`${name}[`)
    const write = writes[field?.kind ?? '']
    return field ? [write && now ? `${field.label} (now ${write(String(now))})` : field.label] : []
  })
  return called.join(', ') || 'this'
})
let sending: Promise<boolean> | undefined
async function send() {
  sending = props.form.submit()
  if (!(await sending)) await toFirstWrong(element.value)
}
/** What is on its way is waited for: where it was taken nothing is left to ask about. */
async function close() {
  await sending
  if (!(await mayDiscard(() => props.form.dirty))) return
  props.form.reset()
  emit('cancel')
}
</script>

<template>
  <form ref="element" class="form-row" :aria-label="label" @submit.prevent="send">
    <slot />
    <v-btn class="go" type="submit" :loading="form.busy" :disabled="idle">{{ submit }}</v-btn>
    <v-btn v-if="cancel" @click="close">{{ cancel }}</v-btn>
    <span class="said" role="alert">{{ general }}</span>
    <p v-if="theirs.length" class="theirs" role="status">
      <span>Somebody else has changed {{ changed }} meanwhile.</span>
      <v-btn class="small" @click="form.takeTheirs()">Take theirs</v-btn>
      <v-btn class="small" @click="form.keepMine()">Keep mine</v-btn>
    </p>
    <slot name="after" />
  </form>
</template>

<style scoped>
.theirs {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 12px;
  flex-basis: 100%;
  padding: 6px 10px;
  background: var(--ochre-wash);
}
</style>

<script setup lang="ts">
import { computed, ref, useId } from 'vue'
import { drawnIn, formAround } from '@/book/form'
import DateField from './DateField.vue'
import FigureInput from './FigureInput.vue'
import OrMeant from './OrMeant.vue'
import { local } from '@/book/english'

/**
 * A field with its label above and the sentence about what is wrong below. In a form it is the form's field of that name.
 * Money, numbers and percentages are shown and read in the person's way of writing; the value is the book's decimal.
 */
type Kind = 'text' | 'lines' | 'money' | 'number' | 'percent' | 'date' | 'choice' | 'check' | 'password' | 'email'
const props = withDefaults(
  defineProps<{
    label: string
    name?: string
    kind?: Kind
    wrong?: string
    hint?: string
    unit?: string
    size?: 'short' | 'wide'
    list?: readonly string[]
    options?: readonly (readonly [string, string])[]
    autocomplete?: string
    hideLabel?: boolean
    /** Of lines. */
    rows?: number
    focus?: boolean
  }>(),
  {
    kind: 'text',
    name: '',
    wrong: '',
    hint: '',
    unit: '',
    size: undefined,
    autocomplete: 'off',
    list: undefined,
    options: undefined,
    rows: 2,
  },
)
const own = defineModel<string | boolean>()
const form = formAround()
const id = useId()
if (props.name) drawnIn(props.name, { label: local(props.label), kind: props.kind })
const value = computed<string>({
  get: () => String((form && props.name ? (form.model[props.name] ?? '') : own.value) ?? ''),
  set: (to) => {
    if (form && props.name) form.model[props.name] = to
    else own.value = to
  },
})
const checked = computed<boolean>({
  get: () => !!(form && props.name ? form.model[props.name] : own.value),
  set: (to) => {
    if (form && props.name) form.model[props.name] = to
    else own.value = to
  },
})
const sentence = computed(() => props.wrong || (form && props.name ? form.wrong[props.name] : '') || '')
/** What else was perhaps meant by the number that is typed. */
const doubt = ref<string>()
function meant(other: string) {
  value.value = other
  doubt.value = undefined
}
const isFigure = computed(() => ['money', 'number', 'percent'].includes(props.kind))
</script>

<template>
  <div class="field" :class="[size, { wrong: sentence }]">
    <label v-if="kind === 'check'" class="check">
      <input v-model="checked" type="checkbox" class="box" :name="name" /> {{ local(label) }}
    </label>
    <template v-else>
      <label :for="id" :class="{ sr: hideLabel }">{{ local(label) }}</label>
      <span class="line">
        <DateField
          v-if="kind === 'date'"
          :id="id"
          v-model="value"
          :wrong="!!sentence"
          :said="`${id}-said`"
          :hint="hint"
        />
        <select
          v-else-if="kind === 'choice'"
          :id="id"
          v-model="value"
          :name="name"
          :aria-invalid="!!sentence"
          :aria-describedby="`${id}-said`"
        >
          <option v-for="[v, text] in options" :key="v" :value="v">{{ text }}</option>
        </select>
        <FigureInput
          v-else-if="isFigure"
          :id="id"
          v-model="value"
          :name="name"
          :placeholder="hint"
          :autofocus="focus"
          :aria-invalid="!!sentence"
          :aria-describedby="`${id}-said`"
          @doubt="doubt = $event"
        />
        <textarea
          v-else-if="kind === 'lines'"
          :id="id"
          v-model="value"
          :name="name"
          :rows="rows"
          :placeholder="hint"
          :aria-invalid="!!sentence"
          :aria-describedby="`${id}-said`"
        ></textarea>
        <input
          v-else
          :id="id"
          v-model="value"
          :name="name"
          :type="kind === 'password' || kind === 'email' ? kind : 'text'"
          :placeholder="hint"
          :autocomplete="autocomplete"
          :autofocus="focus"
          :list="list ? `${id}-list` : undefined"
          :aria-invalid="!!sentence"
          :aria-describedby="`${id}-said`"
        />
        <span v-if="unit" class="soft">{{ unit }}</span>
      </span>
      <datalist v-if="list" :id="`${id}-list`"><option v-for="o in list" :key="o" :value="o" /></datalist>
    </template>
    <OrMeant :other="doubt" @meant="meant" />
    <span :id="`${id}-said`" class="said">{{ sentence }}</span>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  align-items: baseline;
  gap: 4px;
}
.line > input,
.line > select {
  height: 1.625rem;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
  font-size: 0.875rem;
  font-weight: 580;
  color: var(--ink);
  padding: 0 2px;
  min-width: 0;
  width: 100%;
}
.line > textarea {
  width: 100%;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
  font-size: 0.875rem;
  line-height: 1.125rem;
  font-weight: 580;
  color: var(--ink);
  padding: 2px;
  resize: vertical;
}
.line > .num {
  text-align: right;
}
.wrong .line > * {
  border-color: var(--rust);
}
.check > .box {
  flex: none;
}
.check {
  display: flex;
  align-items: center;
  gap: 6px;
  min-height: 1.625rem;
  font-size: var(--t-body);
  color: var(--ink);
}
</style>

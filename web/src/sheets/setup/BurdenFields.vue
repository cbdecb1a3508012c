<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { formAround, type Form } from '@/book/form'
import FormField from '@/parts/FormField.vue'

/** The fields of a burden component, in the form around them. */
const props = defineProps<{ choices: Schema['Choices'] }>()
const codes = computed(() => [
  ['', 'any cost code'] as const,
  ...(props.choices.costCodes ?? []).map((c) => [c.code, `${c.code} ${c.name}`] as const),
])
const form = formAround() as unknown as Form<Schema['NewBurden']>
</script>

<template>
  <FormField label="Burden class" name="burdenClass" :list="choices.burdenClasses?.map((c) => c.name)" />
  <FormField label="Component" name="component" size="wide" />
  <FormField label="For the work of" name="costCode" kind="choice" :options="codes" />
  <FormField
    label="Basis"
    name="basis"
    kind="choice"
    :options="[
      ['gross', '% of gross pay'],
      ['straight', '% of straight pay'],
      ['hour', 'money an hour'],
    ]"
  />
  <FormField label="Value" name="value" :kind="form.model.basis === 'hour' ? 'money' : 'percent'" size="short" />
  <FormField v-if="form.model.basis !== 'hour'" label="Cap a year" name="annualWageCap" kind="money" size="short" />
  <FormField label="From" name="effectiveFrom" kind="date" />
</template>

<script setup lang="ts">
import { watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'

/** The company: where it is by the clock, which says what day today is and what time it is for those who clock in. */
const props = defineProps<{ choices: Schema['Choices'] }>()
const here = Intl.DateTimeFormat().resolvedOptions().timeZone
const company = () => props.choices.company
const form = useForm({
  blank: () => ({ timeZone: company().timeZone || here }),
  keep: ['timeZone'],
  send: ({ timeZone }) =>
    answered(client.PUT('/api/company/time-zone', { body: { timeZone, version: company().version } })),
})
watch(
  () => company().timeZone,
  () => form.reset(),
)
const zones = Intl.supportedValuesOf('timeZone')
</script>

<template>
  <section>
    <FormCard :form="form" label="Time zone" submit="Save time zone">
      <FormField label="Time zone" name="timeZone" :list="zones" size="wide" />
    </FormCard>
    <p class="empty soft">
      {{
        company().timeZone
          ? `Today, due dates and the clock go by the time in ${company().timeZone}, wherever the server or a browser is.`
          : 'No time zone has been chosen: today, due dates and the clock go by the time of the server. The one proposed is that of this browser.'
      }}
      A change moves no hours that are booked.
    </p>
  </section>
</template>

<script setup lang="ts">
import { ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Field from '@/parts/Field.vue'
import { useAdd } from './add'

/** The company: where it is by the clock, which says what day today is and what time it is for those who clock in. */
const props = defineProps<{ choices: Schema['Choices'] }>()
const { busy, said, wrong, add } = useAdd()
const here = Intl.DateTimeFormat().resolvedOptions().timeZone
const zone = ref('')
const company = () => props.choices.company
watch(company, (c) => (zone.value = c.timeZone || here), { immediate: true })
const zones = Intl.supportedValuesOf('timeZone')
const save = () =>
  add(() =>
    answered(client.PUT('/api/company/time-zone', { body: { timeZone: zone.value, version: company().version } })),
  )
</script>

<template>
  <section>
    <form class="form-row" aria-label="Time zone" @submit.prevent="save">
      <Field v-model="zone" label="Time zone" :said="wrong.timeZone" :list="zones" class="wide" />
      <v-btn class="go" type="submit" :loading="busy" :disabled="zone === (company().timeZone ?? '')">Save</v-btn>
      <span v-if="said && !wrong.timeZone" class="said" role="alert">{{ said }}</span>
    </form>
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

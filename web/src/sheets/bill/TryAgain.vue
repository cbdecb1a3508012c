<script setup lang="ts">
import { answered, client, type Schema } from '@/api/client'
import { unkeyed, useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'

/** A message that could not be sent: why, and its address to be put right. */
const props = defineProps<{ message: Schema['MessageRow'] }>()
defineEmits<{ drop: [] }>()
const form = useForm({
  blank: () => ({ to: props.message.to, keep: true }),
  change: 'messages',
  version: () => props.message.version,
  send: (body, version) =>
    answered(
      client.POST('/api/messages/{id}/again', {
        params: { path: { id: props.message.id } },
        body: {
          ...unkeyed(body),
          version,
          keep: body.keep && body.to !== props.message.to,
          keepOver: props.message.usual,
        },
      }),
    ),
})
</script>

<template>
  <p class="why warnword">{{ message.problem }}</p>
  <FormCard :form="form" label="Try again" submit="Try again">
    <FormField label="Send to" name="to" size="wide" />
    <FormField
      name="keep"
      kind="check"
      :label="`and keep it for ${message.customer}${message.usual ? ', in place of ' + message.usual : ''}`"
    />
    <template #after><button type="button" class="lnk" @click="$emit('drop')">Do not send it</button></template>
  </FormCard>
</template>

<style scoped>
.why {
  padding: 8px 16px 0;
  overflow-wrap: anywhere;
}
</style>

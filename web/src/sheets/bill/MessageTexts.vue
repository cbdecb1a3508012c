<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { unkeyed, useForm } from '@/book/form'
import { mayDiscard } from '@/book/leaving'
import Await from '@/parts/Await.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Panel from '@/parts/Panel.vue'

/** The texts that messages are made from, with the blanks that are filled when one is written. */
const emit = defineEmits<{ close: [] }>()
const asked = useQuery({
  queryKey: ['messages', 'texts'],
  queryFn: () => answered(client.GET('/api/message-texts')),
})
type Kind = Schema['MessageText']['kind']
const kind = ref<Kind>('invoice')
const text = computed(() => asked.data.value?.find((t) => t.kind === kind.value))
const told = ref('')
const inBraces = (name: string) => `{${name}}`
const form = useForm({
  blank: () => ({ subject: text.value?.subject ?? '', body: text.value?.body ?? '' }),
  change: 'messages',
  version: () => text.value?.version,
  send: (body, version) =>
    answered(client.PUT('/api/message-texts', { body: { ...unkeyed(body), kind: kind.value, version } })),
  done: () => (told.value = 'Kept.'),
})
watch(text, () => !form.dirty && form.reset(), { immediate: true })
async function choose(to: Kind) {
  if (!(await mayDiscard(() => form.dirty))) return
  kind.value = to
  told.value = ''
  form.reset()
}
const back = () => {
  form.model.subject = form.model.body = ''
  return form.submit()
}
</script>

<template>
  <Panel title="Texts of messages" class="texts" @close="emit('close')">
    <Await v-slot="{ data }" :of="asked" what="the texts">
      <div class="words kinds">
        <button v-for="t in data" :key="t.kind" :aria-pressed="t.kind === kind" @click="choose(t.kind)">
          {{ t.name }}
        </button>
      </div>
      <FormCard
        v-if="text"
        :form="form"
        class="letter-form"
        :label="text.name"
        submit="Keep this text"
        :idle="!form.dirty"
      >
        <FormField label="Subject" name="subject" size="wide" />
        <FormField label="Text" name="body" kind="lines" :rows="14" size="wide" />
        <p class="soft">
          Filled in when a message is written:
          <span v-for="b in text.blanks" :key="b" class="blank-name">{{ inBraces(b) }}</span>
        </p>
        <template #after>
          <span role="status">{{ told }}</span>
          <button v-if="text.own" type="button" class="lnk" @click="back">Go back to the text Jarvo begins with</button>
        </template>
      </FormCard>
    </Await>
  </Panel>
</template>

<style scoped>
.texts {
  align-self: stretch;
  padding-top: 12px;
}
.kinds {
  flex-wrap: wrap;
  gap: 4px 14px;
  padding: 10px 0;
}
.blank-name {
  margin-left: 8px;
  white-space: nowrap;
  font-weight: 560;
}
</style>

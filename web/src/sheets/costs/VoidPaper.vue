<script setup lang="ts">
import { answered, client } from '@/api/client'
import EditCard from '@/parts/EditCard.vue'
import FormField from '@/parts/FormField.vue'
import { useEdit } from '@/parts/edit'
import type { Document } from './document'

/** An approved paper that was a mistake is made void: the reason is typed, what that alters is said, and it stays to be read. */
const props = defineProps<{ paper: Document }>()
const emit = defineEmits<{ close: [] }>()
const edit = useEdit({
  typed: () => ({ reason: '' }),
  put: (d: Document, body, query) =>
    answered(client.POST('/api/costs/{id}/void', { params: { path: { id: d.id! }, query }, body })),
  closed: () => emit('close'),
})
edit.open(props.paper)
</script>

<template>
  <EditCard :edit="edit" :now="paper" label="Void this paper" submit="Void paper">
    <FormField label="Why it is void" name="reason" size="wide" focus />
    <span class="soft">It can't be undone. The paper stays to be read, and its number can be entered again.</span>
  </EditCard>
</template>

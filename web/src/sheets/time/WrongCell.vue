<script setup lang="ts">
import { inWords } from '@/parts/figures'
import { useOutbox, type Outgoing } from '@/book/outbox'

/** Why a cell was refused. Where somebody else was quicker both values stand here, and one is chosen. */
const props = defineProps<{ item: Outgoing; day: string }>()
const emit = defineEmits<{ done: [] }>()
const outbox = useOutbox()

function keepTheirs() {
  outbox.drop(props.item.cell)
  emit('done')
}
function takeMine() {
  const { sheet, cell, place, edit, theirs } = props.item
  outbox.put({ sheet, cell, place }, { ...edit, entryId: theirs?.entryId, version: theirs?.version }, {})
  void outbox.send()
  emit('done')
}
</script>

<template>
  <div class="wrong" role="alert">
    <span>{{ day }}: {{ inWords(item.said ?? '') }}</span>
    <template v-if="item.theirs">
      <button class="lnk" @click="keepTheirs">
        {{ item.theirs.text ? `Keep ${item.theirs.text}` : 'Keep it empty' }}
      </button>
      <button class="lnk" @click="takeMine">{{ item.edit.text ? `Use ${item.edit.text}` : 'Delete the hours' }}</button>
    </template>
    <button v-else class="lnk" @click="keepTheirs">Cancel</button>
  </div>
</template>

<style scoped>
.wrong {
  display: flex;
  gap: 16px;
  white-space: normal;
}
</style>

<script setup lang="ts">
import { onMounted, ref } from 'vue'

/** Why work is returned: said in a line, or with one of the usual reasons. */
defineProps<{ busy: boolean; many: number; reasons: string[] }>()
const emit = defineEmits<{ back: [reason: string]; leave: [] }>()
const reason = ref('')
const field = ref<HTMLInputElement>()
onMounted(() => field.value?.focus())
function take(usual: string) {
  reason.value = usual
  field.value?.focus()
}
</script>

<template>
  <form class="return" @submit.prevent="emit('back', reason)">
    <label class="field"
      >Return, because<input ref="field" v-model="reason" required @keydown.esc="emit('leave')"
    /></label>
    <span class="usual"
      >or
      <button v-for="r in reasons" :key="r" type="button" class="lnk" @click="take(r)">{{ r }}</button>
    </span>
    <v-btn class="warn" type="submit" :loading="busy">Return {{ many > 1 ? many : '' }}</v-btn>
    <button type="button" class="soft" @click="emit('leave')">leave <kbd>Esc</kbd></button>
  </form>
</template>

<style scoped>
.return {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 8px 14px;
  padding: 10px 16px;
  background: var(--rust-wash);
}
.field {
  flex: 1 1 11.25rem;
}
.field > input {
  margin-top: 3px;
}
.usual {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  color: var(--ink-soft);
  flex-basis: 100%;
  order: 3;
}
</style>

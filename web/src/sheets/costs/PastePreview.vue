<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import { useScope } from '@/book/scope'
import { counted, figure } from '@/parts/figures'
import type { Line } from './document'
import { pastedDoubt, pastedLines, pastedSum, roleNames, roles, type Known, type Pasted } from './pasted'

/** What was pasted, with what each column was taken for, before any of it becomes lines. */
const props = defineProps<{ pasted: Pasted; known: Known }>()
const emit = defineEmits<{ take: [lines: Partial<Line>[]]; close: [] }>()
const scope = useScope()
const chosen = ref([...props.pasted.roles])
/** Whether 1.500 is fifteen hundred here, and not one and a half. */
const thousands = ref(false)
const table = computed<Pasted>(() => ({
  rows: props.pasted.rows,
  roles: chosen.value,
  thousands: thousands.value,
}))
const doubt = computed(() => pastedDoubt(table.value))
const lines = computed(() => pastedLines(table.value, props.known))
const bad = computed(() => lines.value.filter((l) => l.wrong.length).length)
const button = ref<HTMLElement>()
onMounted(() => void nextTick(() => button.value?.querySelector('button')?.focus()))
</script>

<template>
  <section class="pasted" aria-label="What was pasted" @keydown.esc.stop="emit('close')">
    <div class="scroll">
      <table class="ledger">
        <thead>
          <tr>
            <th v-for="(role, i) in chosen" :key="i" scope="col">
              <select v-model="chosen[i]" :aria-label="`Column ${i + 1} is`" :class="{ soft: role === 'none' }">
                <option v-for="r in roles" :key="r" :value="r">{{ roleNames[r] }}</option>
              </select>
            </th>
            <th scope="col" class="wide">Read as</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, n) in pasted.rows" :key="n">
            <td v-for="(_, i) in chosen" :key="i" :class="{ soft: chosen[i] === 'none' }">{{ row[i] }}</td>
            <td v-if="lines[n]!.wrong.length" class="said">{{ lines[n]!.wrong.join('; ') }}</td>
            <td v-else>
              {{ figure(lines[n]!.line.quantity) }} {{ lines[n]!.line.unit }} at {{ figure(lines[n]!.line.unitCost) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="doubt" class="acts-of warnword" role="status">
      <i class="flag"></i>“{{ doubt.text }}” is read as {{ figure(thousands ? doubt.other : doubt.plain) }}.
      <button type="button" class="lnk" @click="thousands = !thousands">
        Or is {{ figure(thousands ? doubt.plain : doubt.other) }} meant?
      </button>
    </p>
    <p ref="button" class="acts-of" role="status">
      <v-btn
        class="go"
        :disabled="!!bad"
        @click="
          emit(
            'take',
            lines.map((l) => l.line),
          )
        "
        >Add {{ counted(lines.length, 'line') }}</v-btn
      >
      <v-btn @click="emit('close')">Cancel</v-btn>
      <span v-if="bad" class="said">{{ counted(bad, 'row') }} can't be read yet: choose what the columns are.</span>
      <span v-else>Total {{ figure(pastedSum(lines, scope.choices.value?.company.digits)) }}</span>
    </p>
  </section>
</template>

<style scoped>
.pasted {
  border: solid var(--ink);
  border-width: 1px 0;
  background: var(--paper-back);
}
.scroll {
  max-height: 18.75rem;
}
select {
  border: 0;
  border-bottom: 1px solid var(--ink);
  background: none;
  width: 100%;
}
.wide {
  width: 34%;
}
.acts-of {
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 8px 16px;
}
</style>

<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answered, client } from '@/api/client'
import { day, hours } from '@/parts/figures'
import { showOwn, useOwnHours } from './own'
import OwnPage from './OwnPage.vue'

/** A worker's own hours, entry by entry: what is not approved yet can still be put right. */
const week = ref('')
const own = useOwnHours(() => week.value)
const { data, run } = own
const changing = ref<number>()
const text = ref('')
const days = computed(() => (data.value?.days ?? []).filter((d) => d.entries?.length))
watch(data, (page) => page && showOwn(page), { immediate: true })

function open(id: number, was: string) {
  changing.value = id
  text.value = was
}
async function change(id: number, version: number) {
  const body = { week: data.value!.week, version, text: text.value }
  if (await run(() => answered(client.PUT('/api/clock/hours/{id}', { params: { path: { id } }, body }))))
    changing.value = undefined
}
</script>

<template>
  <OwnPage v-model:week="week" title="Hours" :own="own">
    <template #below>
      <h2>Entry by entry</h2>
      <p v-if="!days.length" class="soft">No hours in this week yet.</p>
      <section v-for="d in days" :key="d.date">
        <h3>
          {{ day(d.date) }} <span class="soft">{{ hours(d.hours) }} h</span>
        </h3>
        <article v-for="e in d.entries" :key="e.id">
          <form v-if="changing === e.id" @submit.prevent="change(e.id, e.version)">
            <input v-model="text" :aria-label="`Hours on ${e.place}; blank deletes them`" autofocus />
            <v-btn class="go" type="submit">Save hours</v-btn>
            <v-btn @click="changing = undefined">Cancel</v-btn>
          </form>
          <template v-else>
            <span>
              <b>{{ e.reading }}</b>
              <small>{{ e.place }}; {{ e.trail.text }}{{ e.note ? `; ${e.note}` : '' }}</small>
            </span>
            <button v-if="!e.locked" class="lnk" @click="open(e.id, e.text)">Change</button>
          </template>
        </article>
      </section>
    </template>
  </OwnPage>
</template>

<style scoped>
h2 {
  font-size: 1.0625rem;
  font-weight: 680;
  padding: 18px 0 4px;
}
h3 {
  font-weight: 640;
  border-bottom: 1px solid var(--rule-strong);
  padding-top: 8px;
}
article,
form {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
  min-height: 2.875rem;
  border-bottom: 1px solid var(--rule-faint);
}
form {
  flex: 1;
  border: 0;
}
form input {
  min-width: 0;
  flex: 1;
  height: 2.5rem;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
  font-size: 1rem;
}
small {
  display: block;
  color: var(--ink-soft);
}
article button {
  min-height: 2.75rem;
}
</style>

<script setup lang="ts">
import { mdiPaperclip } from '@mdi/js'
import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '@/api/client'
import Await from '@/parts/Await.vue'
import Icon from '@/parts/Icon.vue'

/** A message as whoever gets it reads it: read out of the mail that goes out. */
const props = defineProps<{ id: number }>()
const asked = useQuery({
  queryKey: ['messages', 'one', () => props.id],
  queryFn: () => answered(client.GET('/api/messages/{id}', { params: { path: { id: props.id } } })),
})
const size = (bytes: number) => (bytes < 1_000_000 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`)
</script>

<template>
  <Await v-slot="{ data: { letter, customer } }" :of="asked" what="the message">
    <p class="bar soft">
      <span>What {{ customer }} reads</span>
      <a class="lnk" :href="`/api/messages/${id}/mail`" download>as a mail file</a>
    </p>
    <article class="letter" aria-label="The message">
      <dl>
        <div>
          <dt>From</dt>
          <dd>{{ letter.from }}</dd>
        </div>
        <div>
          <dt>To</dt>
          <dd>{{ letter.to }}</dd>
        </div>
        <div>
          <dt>Subject</dt>
          <dd class="strong">{{ letter.subject }}</dd>
        </div>
      </dl>
      <p class="text">{{ letter.text }}</p>
      <ul v-if="letter.files?.length">
        <li v-for="(f, i) in letter.files" :key="i">
          <Icon :path="mdiPaperclip" />
          <a class="lnk" :href="`/api/messages/${id}/files/${i + 1}`" download>{{ f.name }}</a>
          <span class="soft">{{ size(f.bytes) }}</span>
        </li>
      </ul>
    </article>
  </Await>
</template>

<style scoped>
.bar {
  align-self: stretch;
  display: flex;
  justify-content: space-between;
  padding: 12px 0;
}
.letter {
  align-self: stretch;
  background: var(--paper);
  border: 1px solid var(--canvas-edge);
}
dl {
  padding: 16px 26px;
  border-bottom: 1px solid var(--rule-strong);
}
dl > div {
  display: flex;
  gap: 12px;
  line-height: 1.35rem;
}
dt {
  width: 3.75rem;
  flex: none;
  color: var(--ink-soft);
}
dd {
  overflow-wrap: anywhere;
}
.text {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  padding: 20px 26px;
  line-height: 1.35rem;
}
ul {
  list-style: none;
  margin: 0 26px;
  padding: 12px 0;
  border-top: 1px solid var(--rule);
}
li {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 1.75rem;
}
</style>

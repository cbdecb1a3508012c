<script setup lang="ts">
import { computed } from 'vue'
import { differences, type Document } from './document'

/** A paper that somebody else has changed meanwhile: what each of the two says, to choose between. */
const props = defineProps<{ mine: Document; theirs: Document }>()
defineEmits<{ mine: []; theirs: [] }>()
const rows = computed(() => differences(props.mine, props.theirs))
</script>

<template>
  <section class="stale" role="alert">
    <p class="warnword">
      <i class="flag"></i>Somebody else has changed this paper since you opened it. Nothing was written over.
    </p>
    <table class="sum-table">
      <thead>
        <tr>
          <th scope="col">What differs</th>
          <th scope="col">Yours</th>
          <th scope="col">Theirs</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.what">
          <th scope="row">{{ row.what }}</th>
          <td>{{ row.mine || 'none' }}</td>
          <td>{{ row.theirs || 'none' }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="!rows.length" class="soft">They come to the same; take theirs.</p>
    <div class="acts">
      <v-btn class="small" @click="$emit('theirs')">Use theirs</v-btn>
      <v-btn v-if="!theirs.locked" class="small" @click="$emit('mine')">Save mine</v-btn>
      <span v-else class="soft">{{ theirs.locked }}</span>
    </div>
  </section>
</template>

<style scoped>
.stale {
  display: grid;
  gap: 8px;
  padding: 10px 16px;
  background: var(--ochre-wash);
  border-bottom: 1px solid var(--ochre-line);
}
.stale table {
  max-width: 720px;
}
th[scope='row'] {
  text-align: left;
  font-weight: 400;
}
.acts {
  display: flex;
  gap: 12px;
  align-items: center;
}
</style>

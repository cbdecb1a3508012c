<script setup lang="ts">
import { computed } from 'vue'
import { inWords } from '@/parts/figures'
import SumTable from '@/parts/SumTable.vue'
import { differences, type Document } from './document'

/** A paper that somebody else has changed meanwhile: what each of the two says, to choose between. */
const props = defineProps<{ mine: Document; theirs: Document }>()
defineEmits<{ mine: []; theirs: [] }>()
const rows = computed(() =>
  differences(props.mine, props.theirs).map((d) => ({
    what: d.what,
    texts: [inWords(d.mine) || 'none', inWords(d.theirs) || 'none'],
  })),
)
</script>

<template>
  <section class="stale" role="alert">
    <p class="warnword">
      <i class="flag"></i>Somebody else has changed this paper since you opened it. Nothing was written over.
    </p>
    <SumTable class="both" label="What differs" :heads="['What differs', 'Yours', 'Theirs']" :rows="rows" />
    <p v-if="!rows.length" class="soft">They are the same; use theirs.</p>
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
.both {
  max-width: 45rem;
}
.acts {
  display: flex;
  gap: 12px;
  align-items: center;
}
</style>

<script setup lang="ts">
import { mdiChevronDown } from '@mdi/js'
import { computed } from 'vue'
import Icon from '@/parts/Icon.vue'
import { useSession } from '@/book/session'

/** Who is signed in, by their initials; it opens what is theirs. */
const session = useSession()
const initials = computed(() => {
  const [first = '', last = ''] = (session.who?.name ?? '').split(' ')
  return last ? `${first} ${last[0]}.` : first
})
</script>

<template>
  <button class="who">{{ initials }} <Icon :path="mdiChevronDown" /></button>
</template>

<style scoped>
.who {
  align-self: center;
  display: flex;
  align-items: center;
  gap: 3px;
  margin-left: 20px;
  min-height: 1.75rem;
  font-weight: 560;
  white-space: nowrap;
}
@media (max-width: 720px) {
  .who {
    margin-left: auto;
  }
}
</style>

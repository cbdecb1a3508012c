<script setup lang="ts">
import { mdiChevronDown } from '@mdi/js'
import Icon from '@/parts/Icon.vue'
import SheetHead from '@/parts/SheetHead.vue'
import { useScope } from '@/book/scope'
import { useSession } from '@/book/session'
import { addressOf, type View } from './views'

/** The head of Time: Where, When, Crew, and how the hours are looked at. */
defineProps<{ view: View; crews: string[]; crew?: string }>()
const scope = useScope()
const session = useSession()
const views: View[] = ['week', 'day', 'list']
</script>

<template>
  <SheetHead title="Time" :week-only="view !== 'list'">
    <div class="blank">
      <span class="label">Crew</span>
      <v-menu>
        <template #activator="{ props }">
          <button class="blank-value" v-bind="props">
            {{ crew || scope.text('crew') || 'all crews' }} <Icon :path="mdiChevronDown" />
          </button>
        </template>
        <v-list>
          <v-list-item v-if="!session.who?.crew" title="all crews" @click="scope.change({ crew: '' })" />
          <v-list-item v-for="c in crews" :key="c" :title="c" @click="scope.change({ crew: c })" />
        </v-list>
      </v-menu>
    </div>
    <div class="ways" role="group" aria-label="Shown by">
      <button
        v-for="v in views"
        :key="v"
        :aria-pressed="v === view && scope.text('view') !== 'import'"
        @click="scope.change(addressOf(v, scope.span.value))"
      >
        {{ v }}
      </button>
    </div>
    <template #acts><slot name="acts" /></template>
  </SheetHead>
</template>

<style scoped>
.ways {
  display: flex;
  gap: 14px;
}
.ways button {
  color: var(--ink-soft);
  line-height: 1.375rem;
}
.ways [aria-pressed='true'] {
  color: var(--ink);
  font-weight: 640;
  border-bottom: 2px solid var(--denim);
}
@media (max-width: 720px) {
  .ways {
    display: none;
  }
}
</style>

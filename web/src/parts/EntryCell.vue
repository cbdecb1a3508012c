<script setup lang="ts">
import type { CellAt } from './entryGrid'

/** A cell of an EntryGrid: it stands as it is until a key begins to write over it. */
defineProps<{
  cell: CellAt
  /** What it is called, to those who can't see where it stands. */
  label: string
  text: string
  /** What it shows that is no text, for a screen reader. */
  state?: string
  waits?: boolean
  bad?: boolean
  locked?: boolean
}>()
</script>

<template>
  <td
    class="entry"
    :class="{ bad, waits, locked, marked: cell.marked }"
    :data-day="cell.at"
    :tabindex="cell.here ? 0 : -1"
    :aria-selected="cell.marked || undefined"
    :aria-readonly="locked || undefined"
    :data-value="text"
  >
    <input
      v-if="cell.typed !== undefined"
      :value="cell.typed"
      :aria-label="label"
      :aria-invalid="bad"
      autocomplete="off"
    />
    <template v-else>
      <span v-if="cell.here" class="sr">{{ label }}: </span>
      <span class="figure">{{ text }}</span>
      <span v-if="cell.here && state" class="sr">{{ state }}</span>
    </template>
    <slot />
  </td>
</template>

<style>
.ledger td.entry {
  position: relative;
  padding: 0;
  border-left: 1px solid var(--rule-faint);
  overflow: visible;
  vertical-align: top;
  text-align: right;
  cursor: cell;
  user-select: none;
}
.entry .figure,
.entry input {
  display: block;
  width: 100%;
  height: 1.9375rem;
  font-size: 0.875rem;
  font-weight: 480;
  line-height: 1.1875rem;
}
.entry .figure {
  padding-right: 9px;
}
.entry input {
  border: 0;
  background: var(--paper);
  text-align: right;
  padding: 0 9px 0 2px;
  outline: 2px solid var(--denim);
  outline-offset: -2px;
  position: relative;
  z-index: 1;
}
.ledger td.entry:focus {
  outline: 2px solid var(--denim);
  outline-offset: -2px;
}
.ledger td.entry.marked {
  background: var(--denim-wash);
}
.ledger td.entry.locked {
  color: var(--ink-soft);
}
.entry.waits .figure {
  font-style: italic;
  text-decoration: underline dashed 1px var(--denim-line);
  text-underline-offset: 3px;
}
.ledger td.entry.bad {
  color: var(--rust);
  outline: 2px solid var(--rust);
  outline-offset: -2px;
}
</style>

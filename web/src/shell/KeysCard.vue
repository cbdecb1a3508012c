<script setup lang="ts">
import { letterKeys } from '@/book/keys'

defineEmits<{ close: [] }>()
const groups: [string, [string, string][]][] = [
  [
    'Everywhere',
    [
      ['Ctrl K', 'find or do anything'],
      ['Alt J', 'Where'],
      ['Alt [  ]', 'When, earlier or later'],
      ['Alt G then d t c a b j s', 'Today, Time, Costs, Approve, Bill, Jobs, Setup'],
      ['F1', 'this card'],
      ['Esc', 'close, leave it as it was'],
    ],
  ],
  [
    'On the crew sheet',
    [
      ['↑ ↓ ← →', 'next cell; typing writes over it'],
      ['Enter  Tab', 'take it, go down or across'],
      ['Home  End', 'first or last day; with Ctrl, line'],
      ['F2', 'change what is there'],
      ['Alt + ↓ →', 'fill down, fill across'],
      ['Shift + ↑ →', 'mark a block'],
      ['Ctrl C  V', 'copy, paste a block'],
      ['Ctrl Z  Y', 'undo, do it again'],
      ['Alt F', 'crew fill, this row for everyone'],
      ['Alt R', 'repeat last week'],
      ['Alt N', 'a new line'],
      ['Alt B', 'billable or not'],
      ['Alt T', 'this entry: place, note, history'],
      ['Alt W', 'workings of this figure'],
      ['Ctrl Enter', 'hand in'],
    ],
  ],
  [
    'In lists',
    [
      ['↑ ↓', 'next row'],
      ['Enter', 'open the row'],
      ['x', 'choose the row'],
      ['a  r', 'approve, return the row'],
      ['Alt ↓', 'calendar, in a date'],
    ],
  ],
  [
    'Hours can be typed',
    [
      ['8   8.5   8:30', 'hours, or hours and minutes'],
      ['7-3:30', 'from seven to half past three'],
      ['7-15:30/30', 'and half an hour of break'],
      ['22-6', 'past midnight'],
    ],
  ],
]
</script>

<template>
  <section class="crib" aria-label="Keys" @keydown.esc="$emit('close')">
    <header>
      <h2>Keys</h2>
      <label class="soft"
        ><input v-model="letterKeys" type="checkbox" class="box" /> letters work without Alt too</label
      >
      <button class="soft close" @click="$emit('close')">close <kbd>Esc</kbd></button>
    </header>
    <div class="columns">
      <div v-for="[title, keys] in groups" :key="title">
        <h3>{{ title }}</h3>
        <dl>
          <div v-for="[key, does] in keys" :key="key">
            <dt>
              <kbd>{{ key }}</kbd>
            </dt>
            <dd>{{ does }}</dd>
          </div>
        </dl>
      </div>
    </div>
  </section>
</template>

<style scoped>
.crib {
  position: absolute;
  z-index: 5;
  right: var(--edge);
  top: 0;
  bottom: 10px;
  width: 700px;
  max-width: 100%;
  background: var(--paper);
  border-left: 2px solid var(--ink);
  box-shadow: -8px 0 18px -8px var(--shade-far);
  padding: 0 24px 0 52px;
  overflow: auto;
}
.crib::before {
  content: '';
  position: absolute;
  left: 15px;
  top: 0;
  bottom: 0;
  width: 16px;
  background: radial-gradient(circle at 50% 50%, var(--canvas) 6px, var(--rule-strong) 6.5px 7px, transparent 7.5px) 0
    20px/16px 96px repeat-y;
}
header {
  display: flex;
  align-items: baseline;
  gap: 14px;
  height: 52px;
  padding-top: 16px;
  border-bottom: 1px solid var(--ink);
}
h2 {
  font-size: 20px;
  font-weight: 680;
}
.close {
  margin-left: auto;
}
header label {
  display: flex;
  align-items: center;
  gap: 6px;
}
.columns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 30px;
}
h3 {
  font-weight: 660;
  font-size: 14px;
  padding: 14px 0 3px;
}
dl > div {
  display: flex;
  gap: 10px;
  align-items: baseline;
  min-height: 26px;
  border-bottom: 1px solid var(--rule-faint);
}
dt {
  width: 130px;
  flex: none;
}
</style>

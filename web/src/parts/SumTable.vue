<script setup lang="ts">
/** A few figures by what they are, added up or compared, on a page among others. */
defineProps<{
  label?: string
  heads?: string[]
  /** Texts as they are shown; a sum has a double rule under it, and what wants attention is set apart. */
  rows: { what: string; texts: (string | undefined)[]; sum?: boolean; warn?: boolean }[]
}>()
</script>

<template>
  <table class="sum-table" :aria-label="label">
    <thead v-if="heads">
      <tr>
        <th v-for="head in heads" :key="head" scope="col">{{ head }}</th>
        <th v-if="heads.length <= (rows[0]?.texts.length ?? 0)" scope="col"><span class="sr">What stands out</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.what" :class="{ sum: row.sum }">
        <th scope="row">{{ row.what }}</th>
        <td
          v-for="(text, i) in row.texts"
          :key="i"
          :class="{ neg: text?.startsWith('−'), warnword: row.warn && i === row.texts.length - 1 }"
        >
          {{ text }}
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.sum-table {
  border-collapse: collapse;
  width: 100%;
  font-stretch: 94%;
}
td,
th {
  text-align: right;
  height: 1.375rem;
  padding: 0 0 0 12px;
  font-weight: 400;
  white-space: nowrap;
}
:is(td, th):first-child {
  text-align: left;
  padding-left: 0;
  white-space: normal;
}
thead th {
  color: var(--ink-soft);
  font-size: var(--t-sub);
  border-bottom: 1px solid var(--rule-strong);
}
.sum > * {
  border-top: 1px solid var(--ink);
  border-bottom: 3px double var(--ink);
  font-weight: 640;
  height: 1.625rem;
}
</style>

<script setup lang="ts">
import { mdiMenuDown } from '@mdi/js'
import type { Schema } from '@/api/client'
import Icon from '@/parts/Icon.vue'
import { inWords } from '@/parts/figures'

/** An invoice as a paper, or in an open format. One that can't be written says why. */
const props = defineProps<{ invoice: Schema['InvoiceView'] }>()
const emit = defineEmits<{ refused: [why: string] }>()
const files = [
  ['PDF with the hours and receipts behind it', 'pdf?backup=yes'],
  ['E-invoice by EN 16931', 'en16931'],
  ['E-invoice, plain UBL', 'ubl'],
  ['Spreadsheet, XLSX', 'xlsx'],
  ['Table, CSV', 'csv'],
] as const
const address = (format: string) => `/api/invoices/${props.invoice.id}/${format}`
/** E-invoices are asked for first: what they lack is said here, and not in a window of its own. */
async function save(event: Event, format: string) {
  if (!['en16931', 'ubl'].includes(format)) return
  event.preventDefault()
  emit('refused', '')
  const response = await fetch(address(format))
  if (!response.ok) {
    const problem = (await response.json()) as { detail?: string }
    return emit('refused', inWords(problem.detail ?? 'This could not be written.'))
  }
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download = /filename="?([^"]+)/.exec(response.headers.get('Content-Disposition') ?? '')?.[1] ?? 'invoice.xml'
  link.click()
  URL.revokeObjectURL(link.href)
}
</script>

<template>
  <v-menu location="bottom end">
    <template #activator="{ props: menu }"
      ><v-btn v-bind="menu">Save as <Icon :path="mdiMenuDown" /></v-btn
    ></template>
    <nav class="files" aria-label="Save as">
      <a
        v-for="[name, format] in files"
        :key="format"
        :href="address(format)"
        target="_blank"
        @click="save($event, format)"
        >{{ name }}</a
      >
    </nav>
  </v-menu>
</template>

<style scoped>
.files {
  display: flex;
  flex-direction: column;
  background: var(--paper);
  border: 1px solid var(--ink);
  padding: 6px 0;
}
.files > a {
  padding: 4px 16px;
  min-height: 1.75rem;
  text-decoration: none;
}
.files > a:hover,
.files > a:focus-visible {
  background: var(--denim-wash);
}
</style>

<script setup lang="ts">
import { mdiMenuDown } from '@mdi/js'
import type { Schema } from '@/api/client'
import Icon from '@/parts/Icon.vue'

/** An invoice as a paper, or in an open format. */
const props = defineProps<{ invoice: Schema['InvoiceView'] }>()
const files = [
  ['PDF', 'pdf'],
  ['PDF with the hours and receipts behind it', 'pdf?backup=yes'],
  ['E-invoice, UBL', 'ubl'],
  ['Spreadsheet, XLSX', 'xlsx'],
  ['Table, CSV', 'csv'],
] as const
const address = (format: string) => `/api/invoices/${props.invoice.id}/${format}`
</script>

<template>
  <v-menu location="bottom end">
    <template #activator="{ props: menu }"
      ><v-btn v-bind="menu">Save as <Icon :path="mdiMenuDown" /></v-btn
    ></template>
    <v-list aria-label="Save as">
      <v-list-item
        v-for="[name, format] in files"
        :key="format"
        :title="name"
        :href="address(format)"
        target="_blank"
      />
    </v-list>
  </v-menu>
</template>

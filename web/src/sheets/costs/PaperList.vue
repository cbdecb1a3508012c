<script setup lang="ts">
import type { Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Trail from '@/parts/Trail.vue'
import { counted, kindNames, shortDay } from '@/parts/figures'
import type { Document } from './document'
import type { useUnsaved } from './unsaved'

/** The papers of a time: first those that were typed and never saved, then what the book has. */
defineProps<{
  list?: Schema['DocumentList']
  loading: boolean
  unsaved: ReturnType<typeof useUnsaved>
  open?: Document
}>()
defineEmits<{ choose: [id: number]; resume: [paper: Document] }>()
</script>

<template>
  <section class="list">
    <table class="ledger" aria-label="Papers">
      <colgroup>
        <col />
        <col style="width: 82px" />
        <col style="width: 46px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">Supplier or person</th>
          <th scope="col" class="num">Cost</th>
          <th scope="col" class="mk">Trail</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="d in unsaved.fresh.value"
          :key="d.key"
          tabindex="0"
          :class="{ open: d.key === open?.key && !open?.id }"
          @click="$emit('resume', d)"
          @keydown.enter="$emit('resume', d)"
        >
          <td>
            <span class="two"
              ><span>{{ d.supplier || kindNames[d.kind] }}</span
              ><small class="warnword">{{ shortDay(d.date) }}, not saved yet</small></span
            >
          </td>
          <td></td>
          <td></td>
        </tr>
        <tr
          v-for="d in list?.documents"
          :key="d.id"
          tabindex="0"
          :class="{ open: d.id === open?.id }"
          :aria-current="d.id === open?.id"
          @click="$emit('choose', d.id)"
          @keydown.enter="$emit('choose', d.id)"
        >
          <td>
            <span class="two"
              ><span>{{ d.title }}</span
              ><small v-if="unsaved.of(d)" class="warnword">changes not saved yet</small
              ><small v-else-if="d.noJob" class="warnword">{{
                d.noJob === 1 ? 'one line has no job' : `${d.noJob} lines have no job`
              }}</small
              ><small v-else
                >{{ shortDay(d.date) }}, {{ d.detail }}<template v-if="d.scans">, scan</template></small
              ></span
            >
          </td>
          <td class="num"><Amount :of="d.total" /></td>
          <td class="mk"><Trail :trail="d.trail" kind="cost_document" :ids="[d.id]" /></td>
        </tr>
      </tbody>
      <tfoot v-if="list?.documents?.length">
        <tr>
          <th scope="row">
            {{ counted(list.count, 'paper')
            }}<small v-if="list.count > list.documents.length">, the newest {{ list.documents.length }} listed</small>
          </th>
          <td class="num"><Amount :of="list.total" /></td>
          <td></td>
        </tr>
      </tfoot>
    </table>
    <p v-if="loading" class="empty soft" role="status">Looking for papers…</p>
    <p v-else-if="!list?.documents?.length" class="empty soft">
      No paper in this time. Suppliers' invoices and receipts go here, by the line.
    </p>
    <div class="ruled"></div>
  </section>
</template>

<style scoped>
.list :is(td, th) {
  padding-left: 6px;
}
</style>

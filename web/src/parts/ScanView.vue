<script setup lang="ts">
import type { PDFDocumentProxy } from 'pdfjs-dist'
import { onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import { scanAddress, type Scan } from '@/parts/scans'

/** A scan as a picture: a photo as it is, a PDF a page at a time. */
const props = defineProps<{ scan: Scan; large?: boolean }>()
const canvas = ref<HTMLCanvasElement>()
const pdf = shallowRef<PDFDocumentProxy>()
const page = ref(1)
const said = ref('')
const drawn = ref(false)

const close = () => void pdf.value?.loadingTask.destroy()
async function draw() {
  if (!pdf.value || !canvas.value) return
  const { drawPage } = await import('@/parts/pdf')
  await drawPage(pdf.value, page.value, canvas.value)
  drawn.value = true
}
watch(
  () => props.scan.id,
  async () => {
    close()
    pdf.value = undefined
    said.value = ''
    page.value = 1
    drawn.value = props.scan.media !== 'application/pdf'
    if (drawn.value) return
    try {
      const { openPdf } = await import('@/parts/pdf')
      pdf.value = await openPdf(scanAddress(props.scan))
      await draw()
    } catch {
      said.value = 'This PDF can’t be drawn here. Download it to look at it.'
    }
  },
  { immediate: true, flush: 'post' },
)
watch(
  () => [page.value, props.large],
  () => void draw(),
  { flush: 'post' },
)
onBeforeUnmount(close)
</script>

<template>
  <div class="scan">
    <p v-if="said" class="said" role="alert">{{ said }}</p>
    <p v-else-if="!drawn" class="soft" role="status">Opening {{ scan.name }}…</p>
    <img v-if="scan.media !== 'application/pdf'" :src="scanAddress(scan)" :alt="`Scan ${scan.name}`" />
    <canvas v-else v-show="drawn && !said" ref="canvas" role="img" :aria-label="`${scan.name}, page ${page}`"></canvas>
    <p v-if="pdf && pdf.numPages > 1" class="pages">
      <button class="lnk" :disabled="page === 1" @click="page--">Page before</button>
      <span>{{ page }} of {{ pdf.numPages }}</span>
      <button class="lnk" :disabled="page === pdf.numPages" @click="page++">Next page</button>
    </p>
  </div>
</template>

<style scoped>
.scan :is(img, canvas) {
  display: block;
  width: 100%;
  border: 1px solid var(--rule);
  background: var(--paper);
}
.pages {
  display: flex;
  justify-content: space-between;
  padding-top: 6px;
}
</style>

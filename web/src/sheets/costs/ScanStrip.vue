<script setup lang="ts">
import { mdiPaperclip } from '@mdi/js'
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { answered, client } from '@/api/client'
import Icon from '@/parts/Icon.vue'
import { scanAddress, sendScan, type Scan } from '@/parts/scans'
import ScanView from '@/parts/ScanView.vue'

/** The scans and photos of a paper: one is seen, others are a click away, new ones are dropped, pasted or chosen. */
const scans = defineModel<Scan[]>({ required: true })
const props = defineProps<{
  locked: string
  version: number
  large: boolean
  ready: () => Promise<number | undefined>
}>()
const emit = defineEmits<{ large: [] }>()
const at = ref(0)
const said = ref('')
const sending = ref('')
const over = ref(false)
const field = ref<HTMLInputElement>()
const scan = computed(() => scans.value[Math.min(at.value, scans.value.length - 1)])
watch(
  () => scans.value[0]?.id,
  () => (at.value = 0),
)

async function attach(files: Iterable<File> | undefined | null) {
  for (const file of files ?? []) {
    said.value = ''
    sending.value = file.name
    try {
      const id = await props.ready()
      if (!id) throw new Error('put the paper right first; what is attached belongs to a saved paper')
      const made = await sendScan(id, file)
      scans.value = [...scans.value.filter((s) => s.id !== made.id), made]
      void nextTick(() => (at.value = scans.value.length - 1))
    } catch (refused) {
      said.value = `${file.name}: ${(refused as Error).message}`
    } finally {
      sending.value = ''
    }
  }
}
async function detach(one: Scan) {
  try {
    await answered(
      client.DELETE('/api/attachments/{id}', { params: { path: { id: one.id }, query: { version: props.version } } }),
    )
    scans.value = scans.value.filter((s) => s.id !== one.id)
  } catch (refused) {
    said.value = (refused as Error).message
  }
}
function chosen() {
  void attach([...(field.value?.files ?? [])])
  if (field.value) field.value.value = '' // so that the same file can be chosen again
}
useEventListener(window, 'paste', (event: ClipboardEvent) => {
  const files = [...(event.clipboardData?.files ?? [])]
  if (files.length) void attach(files)
})
</script>

<template>
  <section
    class="strip"
    aria-label="Scans"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="((over = false), attach($event.dataTransfer?.files))"
  >
    <header>
      <Icon :path="mdiPaperclip" />
      <template v-if="scan">
        <b class="name" :title="`attached by ${scan.who}`">{{ scan.name }}</b>
        <button class="lnk" @click="emit('large')">{{ large ? 'Small again' : 'Open large' }}</button>
      </template>
      <b v-else>No scan of it yet</b>
    </header>
    <ScanView v-if="scan && !large" :scan="scan" />
    <p v-else-if="!scan" class="soft">
      Drop a PDF or a photo here, paste it, or choose it. It is seen beside the lines.
    </p>
    <ol v-if="scans.length > 1" class="others">
      <li v-for="(s, i) in scans" :key="s.id">
        <button class="lnk" :aria-current="s === scan" @click="at = i">{{ s.name }}</button>
      </li>
    </ol>
    <p class="soft" role="status">{{ sending ? `Sending ${sending}…` : '' }}</p>
    <p v-if="said" class="said" role="alert">{{ said }}</p>
    <footer>
      <button class="lnk" @click="field?.click()">Attach a file</button>
      <a v-if="scan" class="lnk" :href="scanAddress(scan, true)" :download="scan.name">Download</a>
      <button v-if="scan && !locked" class="lnk" @click="detach(scan)">Remove</button>
      <input
        ref="field"
        type="file"
        class="sr"
        tabindex="-1"
        aria-label="Scan or photo"
        multiple
        accept="application/pdf,image/png,image/jpeg"
        @change="chosen"
      />
    </footer>
  </section>
</template>

<style scoped>
.strip {
  display: grid;
  align-content: start;
  gap: 8px;
  min-width: 0;
  position: relative;
}
.over {
  outline: 2px dashed var(--denim);
  outline-offset: 6px;
}
header,
footer {
  display: flex;
  gap: 8px;
  align-items: center;
  min-width: 0;
}
footer {
  gap: 16px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
header .lnk {
  margin-left: auto;
  white-space: nowrap;
}
.others {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  list-style: none;
  padding: 0;
}
.others [aria-current='true'] {
  font-weight: 660;
}
</style>

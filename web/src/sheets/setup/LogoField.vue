<script setup lang="ts">
import { ref } from 'vue'
import { Refusal, windowName, type Schema } from '@/api/client'
import { useAct } from '@/book/act'

/** The mark on the company's papers: a PNG or a JPEG that is chosen, or taken away. */
const props = defineProps<{ settings?: Schema['Settings'] }>()
const emit = defineEmits<{ set: [] }>()
const field = ref<HTMLInputElement>()
const { busy, said, act } = useAct()
async function send(picture: Blob): Promise<true> {
  const answer = await fetch(`/api/company/logo?version=${props.settings?.version ?? 0}`, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream', 'x-window': windowName },
    body: picture,
  }).catch(() => undefined)
  if (answer?.ok) return true
  const body = await answer?.json().catch(() => undefined)
  throw new Refusal({
    title: 'Not set',
    status: answer?.status ?? 0,
    detail: body?.errors?.[0]?.message ?? body?.detail ?? 'there is no connection to the book; try again later',
  })
}
async function set(picture?: Blob | null) {
  if (field.value) field.value.value = '' // so that the same file can be chosen again
  if (picture && (await act(() => send(picture)))) emit('set')
}
/** No picture is none. */
const takeOff = () => set(new Blob())
</script>

<template>
  <div class="field logo">
    <span>Logo, on papers made from now on</span>
    <span class="mark">
      <img v-if="settings?.logo" :src="`/api/logos/${settings.logo}`" alt="The company's logo" />
      <v-btn class="small" :loading="busy" @click="field?.click()">{{
        settings?.logo ? 'Change logo' : 'Choose a file'
      }}</v-btn>
      <v-btn v-if="settings?.logo" class="small" :disabled="busy" @click="takeOff">Remove logo</v-btn>
      <input
        ref="field"
        type="file"
        accept="image/png,image/jpeg"
        aria-label="Logo, a PNG or JPEG"
        hidden
        @change="set(($event.target as HTMLInputElement).files?.[0])"
      />
    </span>
    <span v-if="said" class="said" role="alert">{{ said }}</span>
  </div>
</template>

<style scoped>
.logo {
  flex-basis: 100%;
}
.mark {
  display: flex;
  align-items: center;
  gap: 10px;
}
img {
  max-height: 3.5rem;
  max-width: 12rem;
  background: #fff;
  padding: 4px;
  border: 1px solid var(--rule);
}
</style>

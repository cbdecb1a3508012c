<script setup lang="ts">
import { ref, watch } from 'vue'
import { answered, client } from '@/api/client'
import { useHandIn } from '@/book/handIn'
import Await from '@/parts/Await.vue'
import FillIn from './FillIn.vue'
import type { useOwnHours } from './own'
import OwnWeek from './OwnWeek.vue'

/** The frame of a worker's own sheets, made for a phone: the own week with its days to fill in, and what a sheet has above and below it. */
const props = defineProps<{ title: string; own: ReturnType<typeof useOwnHours> }>()
const week = defineModel<string>('week', { required: true })
const { asked: page, said, run } = props.own
const filling = ref('')
const { asks, handIn: asked } = useHandIn()
watch(week, () => (asks.value = ''))
const handIn = () =>
  run(() =>
    asked((ahead) => {
      const { week, mark } = page.data.value!
      return answered(client.POST('/api/clock/hand-in', { body: { week, mark, ahead } }))
    }),
  )
</script>

<template>
  <div class="sheet phone">
    <div class="scroll">
      <h1 class="sr">{{ title }}</h1>
      <Await v-slot="{ data }" :of="page" what="your hours">
        <slot name="above" />
        <p v-if="said" class="said" role="alert">{{ said }}</p>
        <slot name="acts" />
        <FillIn v-if="filling" :date="filling" :places="data.places ?? []" :run="run" @done="filling = ''" />
        <OwnWeek :page="data" @week="week = $event" @fill="filling = $event" @hand-in="handIn" />
        <slot name="below" />
      </Await>
    </div>
  </div>
</template>

<style scoped>
.phone .scroll {
  overflow: auto;
  padding: 14px 20px 20px;
  width: 100%;
  max-width: 32.5rem;
  margin: 0 auto;
}
</style>

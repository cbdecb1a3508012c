<script setup lang="ts">
import { computed, ref } from 'vue'
import { answered, client, Refusal, type Schema } from '@/api/client'
import FormField from '@/parts/FormField.vue'
import Pick from '@/parts/Pick.vue'
import { figure, shortDay } from '@/parts/figures'
import { usePlaces } from '@/parts/places'
import { useSession } from '@/book/session'
import { useAct } from '@/book/act'
import type { Line } from './document'

/** What a cost line says beside its figures: phase, cost code, a price of its own, and its split over jobs. */
const line = defineModel<Line>({ required: true })
const props = defineProps<{
  date: string
  choices: Schema['Choices']
  wrong: Record<string, string>
  index: number
  columns: number
  hint?: string
  listed?: Schema['Listed']
}>()
const emit = defineEmits<{ edited: []; split: [lines: Line[]]; close: [] }>()
type How = Schema['SplitLine']['how']
const hows: [How, string][] = [
  ['equally', 'equally'],
  ['percent', 'by percent'],
  ['amount', 'by amount'],
]
const places = usePlaces(() => props.choices)
const phases = computed(() => places.phases(line.value.jobId))
const splitting = ref(false)
const how = ref<How>('equally')
const parts = ref<{ jobId?: number; costCodeId?: number; share: string }[]>([])
const said = ref<Record<string, string>>({})

function begin() {
  const { jobId, costCodeId } = line.value
  parts.value = [
    { jobId, costCodeId, share: '' },
    { costCodeId, share: '' },
  ]
  splitting.value = true
}
async function split() {
  const body = {
    date: props.date,
    how: how.value,
    line: { ...line.value, quantity: line.value.quantity || '1' },
    parts: parts.value.map((p) => ({ ...p, share: how.value === 'equally' ? undefined : p.share })),
  }
  said.value = {}
  try {
    emit('split', (await answered(client.POST('/api/costs/split', { body }))) ?? [])
  } catch (refused) {
    said.value = refused instanceof Refusal ? refused.fields() : {}
    if (!Object.keys(said.value).length) said.value = { parts: (refused as Error).message }
  }
}

/** Putting the line on the price list, under a code. */
const session = useSession()
const { busy, said: refused, once } = useAct('prices')
const code = ref<string>()
async function list() {
  const { description, category, unit, unitCost, sellPrice } = line.value
  const body = { code: code.value ?? '', description, category, unit, unitCost, sellPrice, effectiveFrom: props.date }
  await once(body, async (keyed) => {
    const made = await answered(client.POST('/api/prices', { body: keyed }))
    Object.assign(line.value, { itemId: made.id })
    code.value = undefined
    emit('edited')
  })
}
function priced(price: string) {
  line.value.sellPrice = price
  emit('edited')
}
const at = (field: string) => props.wrong[`lines[${props.index}].${field}`]
</script>

<template>
  <tr class="more">
    <td :colspan="columns">
      <div class="form-row">
        <Pick
          v-if="phases.length"
          v-model="line.phaseId"
          label="Phase"
          :items="phases"
          :said="at('phaseId')"
          @update:model-value="emit('edited')"
        />
        <Pick
          v-model="line.costCodeId"
          label="Cost code"
          :items="places.codes.value"
          :said="at('costCodeId')"
          @update:model-value="emit('edited')"
        />
        <FormField
          :model-value="line.sellPrice ?? ''"
          label="Sell price a unit"
          kind="money"
          hint="by markup"
          :wrong="at('sellPrice')"
          @update:model-value="priced(String($event))"
        />
        <button v-if="!splitting" type="button" class="lnk" @click="begin">Split over jobs</button>
        <template v-if="!line.itemId && line.description && session.can('setup')">
          <button v-if="code === undefined" type="button" class="lnk" @click="code = ''">Add to price list</button>
          <template v-else>
            <FormField v-model="code" label="Code on the list" :wrong="refused" @keydown.enter.prevent="list" />
            <v-btn class="small go" :loading="busy" @click="list">Add item</v-btn>
          </template>
        </template>
        <span v-if="listed?.unitCost" class="soft"
          >price list: {{ figure(listed.unitCost)
          }}{{ listed.sellPrice ? `, sells at ${figure(listed.sellPrice)}` : '' }}, {{ listed.paid ? 'paid' : 'since' }}
          {{ shortDay(listed.since!) }}</span
        >
        <span v-if="hint" class="soft">{{ hint }}</span>
        <button type="button" class="soft close" @click="emit('close')">close</button>
      </div>
      <div v-if="splitting" class="split" role="group" :aria-label="`Split of line ${index + 1}`">
        <div class="how">
          <label v-for="[value, text] in hows" :key="value"
            ><input v-model="how" type="radio" :value="value" /> {{ text }}</label
          >
        </div>
        <div v-for="(part, n) in parts" :key="n" class="part">
          <Pick
            v-model="part.jobId"
            :label="`Share ${n + 1}, job`"
            :items="places.jobs.value"
            placeholder="which job?"
            hide-label
            class="wide"
          />
          <Pick
            v-model="part.costCodeId"
            :label="`Share ${n + 1}, cost code`"
            :items="places.codes.value"
            placeholder="cost code"
            hide-label
          />
          <FormField
            v-if="how !== 'equally'"
            v-model="part.share"
            :label="how === 'percent' ? 'Percent' : 'Amount'"
            :kind="how === 'percent' ? 'percent' : 'money'"
            :wrong="said[`parts[${n}].share`]"
          />
          <button
            v-if="parts.length > 2"
            type="button"
            class="soft"
            :aria-label="`Remove share ${n + 1}`"
            @click="parts.splice(n, 1)"
          >
            ×
          </button>
        </div>
        <p v-if="said.parts || said['line.quantity'] || said['line.unitCost']" class="said" role="alert">
          {{ said.parts ?? said['line.unitCost'] ?? said['line.quantity'] }}
        </p>
        <div class="how">
          <button type="button" class="lnk" @click="parts.push({ costCodeId: line.costCodeId, share: '' })">
            Another job
          </button>
          <v-btn class="small go" @click="split">Split the line</v-btn>
          <v-btn class="small" @click="splitting = false">Cancel</v-btn>
        </div>
      </div>
    </td>
  </tr>
</template>

<style scoped>
.ledger .more td {
  height: auto;
  background: var(--paper-back);
  white-space: normal;
  overflow: visible;
  padding: 0;
}
.form-row {
  padding: 8px 12px;
}
.close {
  margin-left: auto;
}
.split {
  display: grid;
  gap: 8px;
  padding: 4px 12px 12px;
}
.how,
.part {
  display: flex;
  gap: 16px;
  align-items: center;
}
.part > * {
  width: 9.375rem;
}
.part > .wide {
  width: 14.375rem;
}
.part > button {
  width: auto;
}
</style>

<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Choose from '@/parts/Choose.vue'
import Field from '@/parts/Field.vue'
import Pick from '@/parts/Pick.vue'
import { longDay, percent } from '@/parts/figures'
import { useScope } from '@/book/scope'
import { useAdd } from './add'
import BurdenStack from './BurdenStack.vue'

/** A wage stacked up, component by component, to its burdened rate: as a sum, and as a picture. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean; asOf: string }>()
const scope = useScope()
const { busy, said, wrong, once } = useAdd()
const build = computed(() => props.setup.build)
const open = ref(props.adding || !props.setup.burdens?.length)
watch(
  () => props.adding,
  (is) => is && (open.value = true),
)
const component = reactive({
  burdenClass: props.choices.burdenClasses?.[0]?.name ?? 'Field',
  component: '',
  basis: 'gross' as Schema['NewBurden']['basis'],
  value: '',
  annualWageCap: '',
  effectiveFrom: props.asOf,
})
const bases = [
  ['gross', '% of gross pay'],
  ['straight', '% of straight pay'],
  ['hour', 'money an hour'],
] as const
const basisText: Record<string, string> = { gross: 'of gross pay', straight: 'of straight pay', hour: 'an hour' }
const whose = computed({
  get: () => build.value?.worker.id,
  set: (id?: number) => id && void scope.change({ worker: String(id) }),
})
const workers = computed(() => (props.setup.workers ?? []).map((w) => ({ id: w.id, title: w.name, sub: w.trade })))
const shade = (i: number) => `shade-${Math.min(i, 5)}`

async function save() {
  if (await once({ ...component }, (body) => answered(client.POST('/api/burdens', { body }))))
    Object.assign(component, { component: '', value: '', annualWageCap: '' })
}
</script>

<template>
  <div class="split burden">
    <section>
      <form v-if="open" class="form-row" aria-label="New burden component" @submit.prevent="save">
        <Field
          v-model="component.burdenClass"
          label="Burden class"
          :said="wrong.burdenClass"
          :list="choices.burdenClasses?.map((c) => c.name)"
        />
        <Field v-model="component.component" label="Component" :said="wrong.component" class="wide" />
        <Choose v-model="component.basis" label="Reckoned as" :options="bases" :said="wrong.basis" />
        <Field v-model="component.value" label="Value" num :said="wrong.value" class="short" />
        <Field
          v-if="component.basis !== 'hour'"
          v-model="component.annualWageCap"
          label="Cap a year"
          num
          :said="wrong.annualWageCap"
          class="short"
        />
        <Field v-model="component.effectiveFrom" label="from" type="date" :said="wrong.effectiveFrom" />
        <v-btn class="go" type="submit" :loading="busy">Add it</v-btn><v-btn @click="open = false">Close</v-btn>
        <span v-if="said" class="said" role="alert">{{ said }}</span>
      </form>
      <div class="title-row">
        <Pick v-if="workers.length" v-model="whose" label="Whose hour" :items="workers" hide-label class="whose" />
        <span class="soft">{{ build?.burdenClass || 'no burden class' }}</span>
        <v-btn v-if="!open" class="small end" @click="open = true">New component</v-btn>
      </div>
      <table v-if="build" class="ledger" aria-label="Burden build-up">
        <colgroup>
          <col />
          <col style="width: 84px" />
          <col style="width: 110px" />
          <col style="width: 84px" />
          <col style="width: 100px" />
          <col v-for="i in 3" :key="i" style="width: 82px" />
        </colgroup>
        <thead>
          <tr>
            <th scope="col">Component</th>
            <th scope="col" class="num">Value</th>
            <th scope="col">Of what</th>
            <th scope="col" class="num">Cap a year</th>
            <th scope="col">Since</th>
            <th scope="col" class="num money">Regular</th>
            <th scope="col" class="num">Overtime</th>
            <th scope="col" class="num">Double</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td class="strong"><i class="swatch wage"></i>Wage</td>
            <td class="num"><Amount :of="build.wage.value" /></td>
            <td class="soft">an hour</td>
            <td></td>
            <td class="soft">{{ longDay(build.wage.since) }}</td>
            <td class="num money"><Amount :of="build.wage.regular" /></td>
            <td class="num"><Amount :of="build.wage.overtime" /></td>
            <td class="num"><Amount :of="build.wage.double" /></td>
          </tr>
          <tr v-for="(p, i) in build.parts" :key="p.id">
            <td><i class="swatch" :class="shade(i)"></i>{{ p.component }}</td>
            <td class="num">
              <Amount v-if="p.basis === 'hour'" :of="p.value" /><template v-else>{{ percent(p.value) }}</template>
            </td>
            <td class="soft">{{ basisText[p.basis] }}</td>
            <td class="num soft"><Amount :of="p.annualWageCap" /></td>
            <td class="soft">{{ longDay(p.since) }}</td>
            <td class="num money"><Amount :of="p.regular" /></td>
            <td class="num"><Amount :of="p.overtime" /></td>
            <td class="num"><Amount :of="p.double" /></td>
          </tr>
        </tbody>
        <tbody>
          <tr class="foot">
            <th scope="row" colspan="5">Burdened hour <span class="soft">before any cap is used up</span></th>
            <td class="num money"><Amount :of="build.total.regular" /></td>
            <td class="num"><Amount :of="build.total.overtime" /></td>
            <td class="num"><Amount :of="build.total.double" /></td>
          </tr>
        </tbody>
        <tbody v-if="build.charge">
          <tr>
            <td colspan="5">Charged by the company's card</td>
            <td class="num money"><Amount :of="build.charge.regular" /></td>
            <td class="num"><Amount :of="build.charge.overtime" /></td>
            <td class="num"><Amount :of="build.charge.double" /></td>
          </tr>
          <tr>
            <td colspan="5" class="soft">margin, the part of it that is left over</td>
            <td class="num money">{{ percent(build.margins?.regular) }}</td>
            <td class="num">{{ percent(build.margins?.overtime) }}</td>
            <td class="num">{{ percent(build.margins?.double) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-else class="empty soft">
        Add a worker with a wage, and this is where it is stacked up to what an hour really costs.
      </p>
      <div class="ruled"></div>
    </section>
    <section><BurdenStack v-if="build" :build="build" /></section>
  </div>
</template>

<style scoped>
.burden {
  grid-template-columns: minmax(0, 1fr) minmax(0, 440px);
}
.whose {
  width: 220px;
  line-height: 18px;
}
.wage {
  --kind: var(--denim);
}
.shade-0 {
  --kind: color-mix(in srgb, var(--denim) 82%, var(--paper));
}
.shade-1 {
  --kind: color-mix(in srgb, var(--denim) 66%, var(--paper));
}
.shade-2 {
  --kind: color-mix(in srgb, var(--denim) 50%, var(--paper));
}
.shade-3 {
  --kind: color-mix(in srgb, var(--denim) 38%, var(--paper));
}
.shade-4 {
  --kind: color-mix(in srgb, var(--denim) 27%, var(--paper));
}
.shade-5 {
  --kind: color-mix(in srgb, var(--denim) 17%, var(--paper));
}
</style>

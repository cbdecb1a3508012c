<script setup lang="ts">
import { reactive } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Field from '@/parts/Field.vue'
import { percent } from '@/parts/figures'
import { useAdd } from './add'

/** Cost codes, and the taxes that a bundle brought in. */
defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices'] }>()
const { busy, said, wrong, once } = useAdd()
const code = reactive({ code: '', name: '' })
async function save() {
  if (await once({ ...code }, (body) => answered(client.POST('/api/cost-codes', { body }))))
    Object.assign(code, { code: '', name: '' })
}
</script>

<template>
  <div class="split two-parts">
    <section>
      <form class="form-row" aria-label="New cost code" @submit.prevent="save">
        <Field v-model="code.code" label="Code" :said="wrong.code" class="short" />
        <Field v-model="code.name" label="What it is" :said="wrong.name" class="wide" />
        <v-btn class="go" type="submit" :loading="busy">Add the code</v-btn>
        <span v-if="said" class="said" role="alert">{{ said }}</span>
      </form>
      <table class="ledger" aria-label="Cost codes">
        <colgroup>
          <col style="width: 120px" />
          <col />
        </colgroup>
        <thead>
          <tr>
            <th scope="col">Code</th>
            <th scope="col">What it is</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in choices.costCodes" :key="c.id">
            <td class="strong">{{ c.code }}</td>
            <td>{{ c.name }}</td>
          </tr>
        </tbody>
      </table>
      <div class="ruled"></div>
    </section>
    <section>
      <table class="ledger" aria-label="Taxes">
        <thead>
          <tr>
            <th scope="col">Tax code</th>
            <th scope="col">Component</th>
            <th scope="col" class="num">Percent</th>
            <th scope="col">On</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="t in setup.taxCodes" :key="t.code + t.component">
            <td class="strong">{{ t.code }}</td>
            <td>{{ t.component }}</td>
            <td class="num">{{ percent(t.percent) }}</td>
            <td class="soft">{{ t.appliesTo }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="!setup.taxCodes?.length" class="empty soft">
        No taxes. They are brought in with a bundle, in tax_codes.csv.
      </p>
    </section>
  </div>
</template>

<style scoped>
.two-parts {
  grid-template-columns: 1fr 1fr;
}
</style>

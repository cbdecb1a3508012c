<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { Refusal } from '@/api/client'
import { useSession } from '@/book/session'
import FigureInput from '@/parts/FigureInput.vue'

const session = useSession()
const router = useRouter()
const book = reactive({
  code: '',
  timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  companyName: session.book?.companyName ?? '',
  currency: 'USD',
  weekStart: 'monday',
  overtimeDaily: '8',
  overtimeWeekly: '40',
  overtimeFactor: '1.5',
  doubleDaily: '12',
  doubleFactor: '2',
  nextInvoiceNumber: '1001',
  nextJobNumber: '101',
  name: '',
  signIn: '',
  password: '',
})
/** A bundle made the company: only who keeps it is asked for. */
const brought = computed(() => !!session.book?.brought)
const wrong = ref<Record<string, string>>({})
const said = ref('')
const busy = ref(false)
const shown = ref(false)
const zones = Intl.supportedValuesOf('timeZone')
const signs = computed(() => [...book.password].length)
const names = new Intl.DisplayNames(undefined, { type: 'currency' })
const currencies = [
  'USD',
  'EUR',
  'GBP',
  'CAD',
  'AUD',
  'NZD',
  'CHF',
  'SEK',
  'NOK',
  'DKK',
  'PLN',
  'CZK',
  'JPY',
  'ZAR',
  'INR',
  'BRL',
  'MXN',
  'SGD',
]
const days = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday']

async function open() {
  busy.value = true
  said.value = ''
  wrong.value = {}
  try {
    await session.openBook({ ...book })
    await router.replace(brought.value ? '/setup?part=company' : '/setup?part=workers&add=yes')
  } catch (refused) {
    wrong.value = refused instanceof Refusal ? refused.fields() : {}
    said.value = (refused as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="page">
    <header class="top"><span class="wordmark">Jarvo</span></header>
    <main class="sheet">
      <form class="first" @submit.prevent="open">
        <h1>{{ brought ? 'A book that was brought in' : 'A new book' }}</h1>
        <p v-if="brought">
          This is the book of <b>{{ session.book?.companyName || 'a company without a name yet' }}</b>, with the
          settings that came with it. They are under Setup, company.
        </p>
        <template v-else>
          <p>
            This is the book of
            <label class="blank-in wide" :class="{ wrong: wrong.companyName }"
              ><input v-model="book.companyName" name="companyName" aria-label="Company name" /><small>{{
                wrong.companyName ?? 'the company, as it stands on your invoices'
              }}</small></label
            >
          </p>
          <p>
            counted in
            <label class="blank-in mid"
              ><select v-model="book.currency" name="currency" aria-label="Currency">
                <option v-for="c in currencies" :key="c" :value="c">{{ names.of(c) }}</option></select
              ><small>{{ wrong.currency ?? 'for good, once work is booked' }}</small></label
            >
            by weeks that start on
            <label class="blank-in mid"
              ><select v-model="book.weekStart" name="weekStart" aria-label="First day of the week">
                <option v-for="d in days" :key="d" :value="d">{{ d[0]!.toUpperCase() + d.slice(1) }}</option></select
              ><small>{{ wrong.weekStart }}</small></label
            >
          </p>
          <p>
            where the clocks are those of
            <label class="blank-in zone" :class="{ wrong: wrong.timeZone }"
              ><input v-model="book.timeZone" name="timeZone" list="zones" aria-label="Time zone" /><small>{{
                wrong.timeZone ?? 'the time zone, by region and city'
              }}</small></label
            ><datalist id="zones"><option v-for="z in zones" :key="z" :value="z" /></datalist>
          </p>
          <p>
            Overtime comes after
            <label class="blank-in tiny" :class="{ wrong: wrong.overtimeDaily }"
              ><FigureInput
                v-model="book.overtimeDaily"
                name="overtimeDaily"
                aria-label="Overtime after hours a day"
              /><small>{{ wrong.overtimeDaily ?? 'a day' }}</small></label
            >
            hours and after
            <label class="blank-in tiny" :class="{ wrong: wrong.overtimeWeekly }"
              ><FigureInput
                v-model="book.overtimeWeekly"
                name="overtimeWeekly"
                aria-label="Overtime after hours a week"
              /><small>{{ wrong.overtimeWeekly ?? 'a week' }}</small></label
            >
            hours, paid
            <label class="blank-in tiny" :class="{ wrong: wrong.overtimeFactor }"
              ><FigureInput v-model="book.overtimeFactor" name="overtimeFactor" aria-label="Overtime factor" /><small>{{
                wrong.overtimeFactor ?? 'times'
              }}</small></label
            >
            and after
            <label class="blank-in tiny" :class="{ wrong: wrong.doubleDaily }"
              ><FigureInput
                v-model="book.doubleDaily"
                name="doubleDaily"
                aria-label="Double time after hours a day"
              /><small>{{ wrong.doubleDaily ?? 'a day' }}</small></label
            >
            hours
            <label class="blank-in tiny" :class="{ wrong: wrong.doubleFactor }"
              ><FigureInput v-model="book.doubleFactor" name="doubleFactor" aria-label="Double factor" /><small>{{
                wrong.doubleFactor ?? 'times'
              }}</small></label
            >
          </p>
          <p>
            The next invoice is number
            <label class="blank-in short" :class="{ wrong: wrong.nextInvoiceNumber }"
              ><input
                v-model="book.nextInvoiceNumber"
                name="nextInvoiceNumber"
                aria-label="Next invoice number"
              /><small>{{ wrong.nextInvoiceNumber ?? 'after the last you used' }}</small></label
            >
            and the next job
            <label class="blank-in short" :class="{ wrong: wrong.nextJobNumber }"
              ><input v-model="book.nextJobNumber" name="nextJobNumber" aria-label="Next job number" /><small>{{
                wrong.nextJobNumber
              }}</small></label
            >
          </p>
        </template>
        <p>
          It is kept by
          <label class="blank-in name" :class="{ wrong: wrong.name }"
            ><input v-model="book.name" name="name" aria-label="Your name" autocomplete="name" /><small>{{
              wrong.name ?? 'your name'
            }}</small></label
          >
          who signs in as
          <label class="blank-in name" :class="{ wrong: wrong.signIn }"
            ><input
              v-model="book.signIn"
              name="signIn"
              aria-label="Name to sign in with"
              autocomplete="username"
            /><small>{{ wrong.signIn ?? 'e-mail, or any name' }}</small></label
          >
        </p>
        <p>
          with the password
          <label class="blank-in name" :class="{ wrong: wrong.password }"
            ><input
              v-model="book.password"
              name="password"
              :type="shown ? 'text' : 'password'"
              aria-label="Password"
              autocomplete="new-password"
            /><small>{{
              wrong.password ?? `${signs} of at least 12 characters; a few words are easier to remember`
            }}</small></label
          >
          <button type="button" class="lnk show" @click="shown = !shown">{{ shown ? 'hide' : 'show' }}</button>
        </p>
        <p>
          and is opened with the code
          <label class="blank-in code" :class="{ wrong: wrong.code }"
            ><input v-model="book.code" name="code" aria-label="Code" autocomplete="off" spellcheck="false" /><small>{{
              wrong.code ?? 'printed where the server was started'
            }}</small></label
          >
        </p>
        <div class="end">
          <v-btn class="go big" type="submit" :loading="busy">Open the book</v-btn>
          <span v-if="said" class="said" role="alert">{{ said }}</span>
          <span v-else-if="!brought" class="soft"
            >A bundle is brought in with <b>jarvo import</b>; the demo company opens with <b>jarvo demo</b>.</span
          >
        </div>
      </form>
      <aside v-if="!brought">
        <h2>What can be changed later</h2>
        <div class="tape">
          <table>
            <tbody>
              <tr>
                <th scope="row">currency</th>
                <td>once anything is booked in it, never</td>
              </tr>
              <tr>
                <th scope="row">time zone</th>
                <td>at any time; it says which day is today</td>
              </tr>
              <tr>
                <th scope="row">overtime, week</th>
                <td>at any time, for all that is not billed yet</td>
              </tr>
              <tr>
                <th scope="row">next numbers</th>
                <td>upwards only, so none is used twice</td>
              </tr>
              <tr>
                <th scope="row">who may do what</th>
                <td>you may do everything</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p class="soft">
          Wages, burden, rate cards and jobs come after this, in any order. What is missing shows up as a loose end with
          its step; nothing has to be complete to begin.
        </p>
      </aside>
    </main>
  </div>
</template>

<style scoped>
.page {
  height: 100dvh;
  display: grid;
  grid-template-rows: 2.875rem minmax(0, 1fr);
}
.top {
  display: flex;
  padding: 0 var(--edge);
}
.sheet {
  margin: 0 var(--edge) var(--edge);
  height: auto;
  overflow: auto;
  grid-template: auto / minmax(0, 1fr) 20.625rem;
}
aside {
  border-left: 1px solid var(--rule);
  padding: 34px 24px;
  font-stretch: 94%;
}
aside h2 {
  font-weight: 660;
  font-size: 0.875rem;
  padding-bottom: 10px;
}
aside :is(th, td) {
  padding: 4px 0;
  vertical-align: top;
  white-space: normal;
  text-align: left;
}
aside td {
  color: var(--ink-soft);
}
aside th {
  width: 6.5rem;
}
aside p {
  display: block;
  padding-top: 22px;
  font-size: var(--t-small);
}
@media (max-width: 1180px) {
  .sheet {
    grid-template: auto auto / minmax(0, 1fr);
  }
}
.first {
  max-width: 58.75rem;
  padding: 30px 30px 30px 92px;
  font-size: 1.0625rem;
  line-height: 1.875rem;
  position: relative;
}
.first::before {
  content: '';
  position: absolute;
  left: 64px;
  top: 0;
  bottom: 0;
  border-left: 3px double var(--rule);
}
h1 {
  font: 300 2.25rem/2.625rem var(--face);
  font-stretch: 108%;
  padding-bottom: 14px;
}
p {
  display: flex;
  flex-wrap: wrap;
  gap: 0 9px;
  align-items: flex-start;
  padding: 7px 0 9px;
}
.blank-in {
  display: inline-block;
}
.blank-in > :is(input, select) {
  display: block;
  width: 100%;
  height: 1.875rem;
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  border-radius: 0;
  background: none;
  padding: 0 4px;
  font-weight: 620;
}
.blank-in small {
  display: block;
  font-size: var(--t-sub);
  line-height: 0.875rem;
  color: var(--ink-soft);
  padding: 2px 4px 0;
}
.blank-in.wrong small {
  color: var(--rust);
  font-weight: 560;
}
.blank-in.wrong > input {
  border-color: var(--rust);
}
.wide {
  width: 26.25rem;
}
.name {
  width: 16.25rem;
}
.mid {
  width: 10rem;
}
.short {
  width: 8.75rem;
}
.tiny {
  width: 3rem;
}
.zone {
  width: 14.375rem;
}
.code {
  width: 13.125rem;
}
.show {
  font-size: 0.8125rem;
}
.end {
  display: flex;
  align-items: center;
  gap: 18px;
  padding-top: 20px;
  margin-top: 12px;
  border-top: 1px solid var(--rule);
  font-size: 0.8125rem;
  line-height: 1.125rem;
}
</style>

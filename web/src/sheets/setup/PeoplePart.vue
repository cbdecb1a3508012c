<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Field from '@/parts/Field.vue'
import Pick from '@/parts/Pick.vue'
import { useAdd } from './add'

/** Who may sign in, and what they may do. */
const props = defineProps<{ choices: Schema['Choices'] }>()
type Role = Schema['NewUser']['role']
const roles: [Role, string][] = [
  ['owner', 'all of it, and who may sign in'],
  ['bookkeeper', 'all of it'],
  ['manager', 'hours, costs, approval, jobs and their money'],
  ['foreman', 'hours of a crew, no money'],
  ['worker', 'their own clock and hours'],
]
const { busy, said, wrong, add, once } = useAdd()
const blank = {
  name: '',
  signIn: '',
  password: '',
  role: 'foreman' as Role,
  crew: '',
  workerId: undefined as number | undefined,
}
const user = reactive({ ...blank })
const changing = ref<number>()
const password = ref('')
const { data, error, refetch } = useQuery({ queryKey: ['users'], queryFn: () => answered(client.GET('/api/users')) })
const workers = computed(() => (props.choices.workers ?? []).map((w) => ({ id: w.id, title: w.name, sub: w.sub })))

async function save() {
  const added = { ...user, crew: user.role === 'foreman' ? user.crew : '' }
  if (await once(added, (body) => answered(client.POST('/api/users', { body })))) {
    Object.assign(user, blank)
    void refetch()
  }
}
async function change(u: Schema['UserRow'], active: boolean, word = '') {
  const body = { active, password: word }
  const done = await add(() => answered(client.PUT('/api/users/{id}', { params: { path: { id: u.id } }, body })))
  if (done) {
    changing.value = undefined
    password.value = ''
  }
  void refetch()
}
</script>

<template>
  <section>
    <form class="form-row" aria-label="Let somebody in" @submit.prevent="save">
      <Field v-model="user.name" label="Name" :said="wrong.name" />
      <Field v-model="user.signIn" label="Signs in as" :said="wrong.signIn" class="wide" />
      <Field v-model="user.password" label="Password" type="password" :said="wrong.password" />
      <label class="field wide"
        ><span>May</span
        ><select v-model="user.role">
          <option v-for="[role, may] in roles" :key="role" :value="role">{{ role }}: {{ may }}</option>
        </select></label
      >
      <label v-if="user.role === 'foreman'" class="field"
        ><span>Crew</span
        ><select v-model="user.crew">
          <option value="">all crews</option>
          <option v-for="c in choices.crews" :key="c">{{ c }}</option>
        </select></label
      >
      <Pick v-model="user.workerId" label="Own hours of" :items="workers" :said="wrong.workerId" />
      <v-btn class="go" type="submit" :loading="busy">Let them in</v-btn>
      <span v-if="said" class="said" role="alert">{{ said }}</span>
    </form>
    <p v-if="error" class="empty said" role="alert">{{ error.message }}</p>
    <table v-else class="ledger" aria-label="Who may sign in">
      <colgroup>
        <col style="width: 190px" />
        <col style="width: 250px" />
        <col style="width: 120px" />
        <col style="width: 150px" />
        <col style="width: 160px" />
        <col />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">Name</th>
          <th scope="col">Signs in as</th>
          <th scope="col">May</th>
          <th scope="col">Crew</th>
          <th scope="col">Own hours of</th>
          <th scope="col">Now</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="u in data" :key="u.id">
          <td class="strong">{{ u.name }}</td>
          <td>{{ u.signIn }}</td>
          <td>{{ u.role }}</td>
          <td>{{ u.role === 'foreman' ? u.crew || 'all crews' : '' }}</td>
          <td>{{ u.worker }}</td>
          <td>
            <form v-if="changing === u.id" class="word" @submit.prevent="change(u, true, password)">
              <input v-model="password" type="password" :aria-label="`Another password for ${u.name}`" autofocus />
              <button class="lnk" type="submit">Take it</button>
            </form>
            <span v-else class="word">
              {{ u.active ? 'may sign in' : 'kept out' }}
              <button class="lnk" @click="change(u, !u.active)">{{ u.active ? 'Keep out' : 'Let in again' }}</button>
              <button v-if="u.active" class="lnk" @click="changing = u.id">Another password</button>
            </span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.word {
  display: flex;
  gap: 14px;
}
.word input {
  border: 0;
  border-bottom: 1.5px solid var(--ink);
  background: none;
}
</style>

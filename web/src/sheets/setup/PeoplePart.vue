<script setup lang="ts">
import { useScope } from '@/book/scope'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useForm } from '@/book/form'
import Await from '@/parts/Await.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import Pick from '@/parts/Pick.vue'
import SureButton from '@/parts/SureButton.vue'
import type { Column } from '@/parts/ledger'

/** Who may sign in, and what they may do. */
const props = defineProps<{ choices: Schema['Choices'] }>()
type Role = Schema['NewUser']['role']
const roles: [Role, string][] = [
  ['owner', 'owner: everything, and who may sign in'],
  ['bookkeeper', 'bookkeeper: everything'],
  ['manager', 'manager: hours, costs, approval, jobs and their money'],
  ['foreman', 'foreman: hours of a crew, no money'],
  ['worker', 'worker: their own clock and hours'],
]
const users = useQuery({ queryKey: ['users'], queryFn: () => answered(client.GET('/api/users')) })
const form = useForm({
  blank: () => ({
    name: '',
    signIn: '',
    password: '',
    role: 'foreman' as Role,
    crew: '',
    workerId: undefined as number | undefined,
  }),
  change: 'users',
  send: (body) =>
    answered(client.POST('/api/users', { body: { ...body, crew: body.role === 'foreman' ? body.crew : '' } })),
})
const workers = computed(() => (props.choices.workers ?? []).map((w) => ({ id: w.id, title: w.name, sub: w.sub })))
const crews = computed(() => [['', 'all crews'] as const, ...(props.choices.crews ?? []).map((c) => [c, c] as const)])

const changing = ref<number>()
const put = (id: number, active: boolean, password = '') =>
  answered(client.PUT('/api/users/{id}', { params: { path: { id } }, body: { active, password } }))
const { said, act } = useAct('users')
const reset = useForm({
  blank: () => ({ password: '' }),
  change: 'users',
  send: ({ password }) => put(changing.value!, true, password),
  done: () => (changing.value = undefined),
})
function open(u: Schema['UserRow']) {
  reset.reset()
  changing.value = u.id
}
const columns: Column<Schema['UserRow']>[] = [
  { id: 'name', label: 'Name', width: 190, value: (u) => u.name, tone: 'strong' },
  { id: 'signIn', label: 'Signs in as', width: 230, value: (u) => u.signIn },
  { id: 'role', label: 'Role', width: 120, value: (u) => u.role },
  { id: 'crew', label: 'Crew', width: 130, value: (u) => (u.role === 'foreman' ? u.crew || 'all crews' : '') },
  { id: 'worker', label: 'Own hours of', value: (u) => u.worker },
  { id: 'state', label: 'Sign-in', width: 110, value: (u) => (u.active ? 'active' : 'deactivated') },
  { id: 'acts', label: 'Change', width: 260, value: () => '', acts: true },
]
const scope = useScope()
</script>

<template>
  <section class="listing">
    <FormCard :form="form" label="New user" submit="Add user">
      <FormField label="Name" name="name" />
      <FormField label="Signs in as" name="signIn" size="wide" />
      <FormField label="Password" name="password" kind="password" autocomplete="new-password" />
      <FormField label="Role" name="role" kind="choice" :options="roles" class="roles" />
      <FormField v-if="form.model.role === 'foreman'" label="Crew" name="crew" kind="choice" :options="crews" />
      <Pick v-model="form.model.workerId" label="Own hours of" :items="workers" :said="form.wrong.workerId" />
    </FormCard>
    <p class="said" role="alert">{{ said }}</p>
    <Await v-slot="{ data }" :of="users" what="the list of users">
      <Ledger
        name="users"
        label="Users"
        of="user"
        :columns="columns"
        :rows="data ?? []"
        :row-key="(u) => u.id"
        :find="scope.text('find')"
        :opened="changing"
      >
        <template #acts="{ row }">
          <span class="acts-of">
            <SureButton
              v-if="row.active"
              label="Deactivate"
              :sure="`${row.name} is signed out at once.`"
              small
              @sure="act(() => put(row.id, false))"
            />
            <v-btn v-else class="small" @click="act(() => put(row.id, true))">Activate</v-btn>
            <v-btn v-if="row.active" class="small" @click="open(row)">Reset password</v-btn>
          </span>
        </template>
        <template #below="{ row }">
          <FormCard
            :form="reset"
            :label="`New password for ${row.name}`"
            submit="Reset password"
            cancel="Cancel"
            @cancel="changing = undefined"
          >
            <FormField
              :label="`New password for ${row.name}`"
              name="password"
              kind="password"
              autocomplete="new-password"
              size="wide"
            />
          </FormCard>
        </template>
      </Ledger>
    </Await>
  </section>
</template>

<style scoped>
.form-row > .roles {
  width: 20.625rem;
}
.acts-of {
  display: flex;
  gap: 8px;
}
</style>

<script setup lang="ts">
import { useScope } from '@/book/scope'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { unkeyed, useForm } from '@/book/form'
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

const changing = ref<Schema['UserRow']>()
type User = Schema['UserRow']
const put = (u: User, body: Omit<Schema['UserChange'], 'version'>) =>
  answered(client.PUT('/api/users/{id}', { params: { path: { id: u.id } }, body: { ...body, version: u.version } }))
const { said, act } = useAct('users')
const reset = useForm({
  blank: () => ({ password: '' }),
  change: 'users',
  send: ({ password }) => put(changing.value!, { active: true, password }),
  done: () => (changing.value = undefined),
})
/** What somebody is called and may do. */
const edited = ref<User>()
const edit = useForm({
  blank: () => ({
    name: edited.value?.name ?? '',
    role: edited.value?.role ?? ('foreman' as Role),
    crew: edited.value?.crew ?? '',
    workerId: edited.value?.workerId || undefined,
  }),
  change: 'users',
  send: (body) =>
    put(edited.value!, { ...unkeyed(body), active: true, crew: body.role === 'foreman' ? body.crew : '' }),
  done: () => (edited.value = undefined),
})
function open(u: User) {
  edited.value = undefined
  reset.reset()
  changing.value = u
}
function change(u: User) {
  changing.value = undefined
  edited.value = u
  edit.reset()
}
const columns: Column<Schema['UserRow']>[] = [
  { id: 'name', label: 'Name', width: 190, value: (u) => u.name, tone: 'strong' },
  { id: 'signIn', label: 'Signs in as', width: 230, value: (u) => u.signIn },
  { id: 'role', label: 'Role', width: 120, value: (u) => u.role },
  { id: 'crew', label: 'Crew', width: 130, value: (u) => (u.role === 'foreman' ? u.crew || 'all crews' : '') },
  { id: 'worker', label: 'Own hours of', value: (u) => u.worker },
  { id: 'state', label: 'Sign-in', width: 110, value: (u) => (u.active ? 'active' : 'deactivated') },
  { id: 'acts', label: 'Change', width: 330, value: () => '', acts: true },
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
        :opened="(changing ?? edited)?.id"
      >
        <template #acts="{ row }">
          <span class="acts-of">
            <SureButton
              v-if="row.active"
              label="Deactivate"
              :sure="`${row.name} is signed out at once.`"
              small
              @sure="act(() => put(row, { active: false }))"
            />
            <v-btn v-else class="small" @click="act(() => put(row, { active: true }))">Activate</v-btn>
            <v-btn v-if="row.active" class="small" @click="change(row)">Change</v-btn>
            <v-btn v-if="row.active" class="small" @click="open(row)">Reset password</v-btn>
          </span>
        </template>
        <template #below="{ row }">
          <FormCard
            v-if="edited"
            :form="edit"
            :label="`Change ${row.name}`"
            submit="Save"
            cancel="Cancel"
            @cancel="edited = undefined"
          >
            <FormField label="Name" name="name" />
            <FormField label="Role" name="role" kind="choice" :options="roles" class="roles" />
            <FormField v-if="edit.model.role === 'foreman'" label="Crew" name="crew" kind="choice" :options="crews" />
            <Pick v-model="edit.model.workerId" label="Own hours of" :items="workers" :said="edit.wrong.workerId" />
          </FormCard>
          <FormCard
            v-else
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
</style>

<script setup lang="ts">
import { useSession } from '@/book/session'
import { useLook } from './theme'
import WhoButton from './WhoButton.vue'

/** What is theirs who is signed in: the look, the keys, the password, and the way out. */
defineEmits<{ keys: []; password: [] }>()
const session = useSession()
const look = useLook()
</script>

<template>
  <v-menu>
    <template #activator="{ props }"><WhoButton v-bind="props" /></template>
    <v-list>
      <v-list-item :title="session.who?.name" :subtitle="session.who?.role" />
      <v-list-item
        :title="look === 'dark' ? 'Light theme' : 'Dark theme'"
        @click="look = look === 'dark' ? 'light' : 'dark'"
      />
      <v-list-item title="Keys" @click="$emit('keys')" />
      <v-list-item title="Change password" @click="$emit('password')" />
      <v-list-item title="Sign out" @click="session.signOut()" />
    </v-list>
  </v-menu>
</template>

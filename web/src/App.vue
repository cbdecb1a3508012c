<script setup lang="ts">
import { useRoute } from 'vue-router'
import AppShell from './shell/AppShell.vue'
import { useLook } from './shell/theme'

const route = useRoute()
useLook()
</script>

<template>
  <v-app>
    <router-view v-if="route.meta.open" />
    <AppShell v-else-if="route.meta.tab" />
  </v-app>
</template>

<script setup lang="ts">
import { defineAsyncComponent } from 'vue'
import { useRoute } from 'vue-router'
import { asked } from './book/leaving'
import AppShell from './shell/AppShell.vue'
import { useLook } from './shell/theme'

const DiscardCard = defineAsyncComponent(() => import('./shell/DiscardCard.vue'))
const route = useRoute()
useLook()
</script>

<template>
  <v-app>
    <router-view v-if="route.meta.open" />
    <AppShell v-else-if="route.meta.tab" />
    <DiscardCard v-if="asked" :decide="asked" />
  </v-app>
</template>

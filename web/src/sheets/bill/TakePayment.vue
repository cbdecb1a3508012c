<script setup lang="ts">
import { ref } from 'vue'
import Field from '@/parts/Field.vue'

/** A payment for the invoice that is open: all of what is left, unless said otherwise. */
const props = defineProps<{ balance: string; today: string; busy: boolean }>()
defineEmits<{ take: [amount: string, date: string] }>()
const amount = ref(props.balance)
const date = ref(props.today)
</script>

<template>
  <form class="form-row" aria-label="Take a payment" @submit.prevent="$emit('take', amount, date)">
    <Field v-model="amount" label="Take a payment of" num />
    <Field v-model="date" label="on" type="date" />
    <v-btn type="submit" :loading="busy">Take it</v-btn>
  </form>
</template>

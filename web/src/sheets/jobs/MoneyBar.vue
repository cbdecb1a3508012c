<script setup lang="ts">
/** Cost against what is earned, on the list's common scale. Shares are of the scale's end, in 1/1000. */
defineProps<{ cost: number; billed: number; earned: number; label: string }>()
</script>

<template>
  <svg class="money-bar" viewBox="0 0 1000 16" preserveAspectRatio="none" role="img" :aria-label="label">
    <rect v-if="cost > earned" :x="earned" y="3" :width="cost - earned" height="10" class="beyond" />
    <rect :width="Math.min(cost, earned || cost)" y="3" height="10" :class="earned ? 'cost' : 'beyond'" />
    <path v-if="earned > billed" :d="`M${billed} 1H${earned}V15H${billed}`" class="unbilled" />
    <path
      v-if="billed"
      :d="`M0 1H${billed}${earned > billed ? '' : 'V15'}${earned > billed ? `M${billed} 15` : ''}H0Z`"
      class="billed"
    />
  </svg>
</template>

<style scoped>
.money-bar {
  display: block;
  width: 100%;
  height: 1rem;
}
.money-bar * {
  vector-effect: non-scaling-stroke;
}
.cost {
  fill: var(--denim);
}
.beyond {
  fill: var(--rust-wash);
  stroke: var(--rust);
  stroke-width: 1.5;
}
.billed,
.unbilled {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}
.unbilled {
  stroke-dasharray: 3 2;
}
</style>

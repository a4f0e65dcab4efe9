<script setup lang="ts">
/** Fields that somebody may not change can be read and not typed into; it says why. */
defineProps<{ why: string | null }>()
</script>

<template>
  <fieldset class="locked" :disabled="why !== null">
    <p v-if="why" class="quiet why">{{ why }}</p>
    <slot />
  </fieldset>
</template>

<style scoped>
.locked {
  display: grid;
  gap: 10px;
  min-width: 0;
  margin: 0;
  padding: 0;
  border: 0;
}
.why {
  margin: 0;
}
</style>

<script setup lang="ts">
/** What stands at the head of pages outside a project. */
defineProps<{ says: string }>()
</script>

<template>
  <header>
    <img src="/mark.svg" alt="" width="44" height="44" />
    <div>
      <h1>Kataxis</h1>
      <p class="quiet">{{ says }}</p>
    </div>
    <slot />
  </header>
</template>

<script setup lang="ts">
/** The head of a page that looks at one thing: where it belongs, what it is, and what can be done
 *  with it. */
withDefaults(defineProps<{ above: string; title: string; quiet?: string }>(), { quiet: '' })
</script>

<template>
  <header>
    <div>
      <h3>{{ above }}</h3>
      <h1>
        {{ title }} <span v-if="quiet" class="quiet">{{ quiet }}</span>
      </h1>
    </div>
    <slot />
  </header>
</template>

<style scoped>
header {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 10px 18px;
  border-bottom: 1px solid var(--line);
}
header > div {
  flex: 1;
  min-width: 0;
}
.quiet {
  font-weight: 400;
  font-size: 15px;
}
</style>

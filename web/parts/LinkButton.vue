<script setup lang="ts">
import { NButton } from 'naive-ui'
import type { RouteLocationRaw } from 'vue-router'

/** A button that leads to another page; it is a link, so that it can be opened beside. */
defineOptions({ inheritAttrs: false })
defineProps<{ to: RouteLocationRaw }>()
</script>

<template>
  <RouterLink v-slot="{ href, navigate }" :to="to" custom>
    <NButton tag="a" v-bind="$attrs" :href="href" @click="navigate"><slot /></NButton>
  </RouterLink>
</template>

<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import HandMadeDevice from './HandMadeDevice.vue'
import HeadPicker, { type Head } from './HeadPicker.vue'

/** The device below a port: one of the Shelf, or one that is known by its sizes alone. */
const emit = defineEmits<{ take: [head: Pick<Head, 'sha256' | 'key'>]; close: [] }>()
const isByHand = ref(false)
</script>

<template>
  <HandMadeDevice
    v-if="isByHand"
    protocol="io-link"
    @made="emit('take', $event)"
    @close="isByHand = false"
  />
  <template v-else>
    <HeadPicker protocol="io-link" @take="emit('take', $event)" @close="emit('close')" />
    <div>
      <NButton size="small" @click="isByHand = true">It has no file: by its sizes …</NButton>
    </div>
  </template>
</template>

<script setup lang="ts">
import { newId, protocolOn } from '@kataxis/core'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import DialogBox from '../../../parts/DialogBox.vue'
import { useProject } from '../../../stores/project'
import { useShelf } from '../../../stores/shelf'
import HandMadeDevice from './HandMadeDevice.vue'
import HeadPicker, { type Head } from './HeadPicker.vue'

const props = defineProps<{ networkId: string }>()
const emit = defineEmits<{ close: []; added: [id: string] }>()
const project = useProject()
const shelf = useShelf()
/** Protocols that a device sheet can describe. */
const isByHand = ref(false)
const protocol = computed(() => protocolOn(project.plan!.networks[props.networkId]!))

async function take(head: Pick<Head, 'sha256' | 'key'>): Promise<void> {
  await shelf.need([head.sha256])
  const id = newId()
  if (
    project.run({
      type: 'addStation',
      id,
      networkId: props.networkId,
      file: head.sha256,
      device: head.key,
      comment: '',
    })
  )
    emit('added', id)
}
</script>

<template>
  <DialogBox
    :title="
      isByHand ? 'A device without a description file' : 'Which head does the station stand on?'
    "
    @close="emit('close')"
  >
    <template v-if="!isByHand">
      <HeadPicker :protocol="protocol.name" @take="take" @close="emit('close')" />
      <NButton v-if="protocol.sheetParts" size="small" @click="isByHand = true">
        No file for it? Write its sizes by hand
      </NButton>
    </template>
    <HandMadeDevice v-else :protocol="protocol.name" @made="take" @close="isByHand = false" />
  </DialogBox>
</template>

<style scoped>
.n-button {
  justify-self: start;
}
</style>

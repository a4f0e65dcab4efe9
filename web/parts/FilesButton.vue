<script setup lang="ts">
import { NButton, NUpload, type UploadFileInfo } from 'naive-ui'

/** Asks for files and gives all that were chosen at once. */
defineProps<{
  label: string
  accept: string
  multiple?: boolean
  type?: 'default' | 'primary'
}>()
const emit = defineEmits<{ files: [files: readonly File[]] }>()

let gathered: File[] = []
/** Called once a file, all in one turn. */
function gather({ file: { file } }: { file: UploadFileInfo }): false {
  if (!file) return false
  if (gathered.length === 0)
    setTimeout(() => {
      emit('files', gathered)
      gathered = []
    })
  gathered.push(file)
  return false
}
</script>

<template>
  <NUpload
    class="files-button"
    :multiple="multiple"
    :accept="accept"
    :show-file-list="false"
    :input-props="{ 'aria-label': label } as never"
    @before-upload="gather"
  >
    <NButton :type="type ?? 'default'"><slot /></NButton>
  </NUpload>
</template>

<style scoped>
.files-button {
  width: auto;
}
</style>

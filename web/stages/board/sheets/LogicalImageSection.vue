<script setup lang="ts">
import { oneOr } from '@kataxis/core'
import type { LogicalImage } from '@kataxis/core'
import { NTable } from 'naive-ui'

/** What the master of a line lays side by side for all its slaves. */
defineProps<{ image: LogicalImage }>()
const bitWords = (part: { bit: number; bits: number } | null) =>
  part
    ? part.bits === 8
      ? `${part.bit >> 3}`
      : part.bits % 8 === 0
        ? `${part.bit >> 3} to ${(part.bit + part.bits) / 8 - 1}`
        : `${part.bit >> 3}.${part.bit & 7} to .${(part.bit & 7) + part.bits - 1}`
    : '–'
</script>

<template>
  <section>
    <h2>Logical image</h2>
    <p class="quiet">
      {{ image.outputBytes }} bytes out, then {{ image.inputBytes }} in,
      {{ oneOr(image.datagrams, 'one datagram', 'datagrams') }}; the working counter is
      {{ image.workingCounter }} when all answer.
    </p>
    <NTable size="small" :bordered="false">
      <thead>
        <tr>
          <th scope="col">Slave</th>
          <th scope="col">Out, byte</th>
          <th scope="col">In, byte</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="part in image.parts" :key="part.view.id">
          <td>{{ part.view.station.name }}</td>
          <td class="mono">{{ bitWords(part.out) }}</td>
          <td class="mono">{{ bitWords(part.in) }}</td>
        </tr>
      </tbody>
    </NTable>
  </section>
</template>

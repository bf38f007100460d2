<script setup lang="ts">
import StrikeDialog from '@/components/StrikeDialog.vue'
import type { Marks } from './useMarks'

/** Asks what is to be done with a reading of the sheet, and has it done. */
defineProps<{ marks: Marks }>()
</script>

<template>
  <StrikeDialog
    :what="marks.marking.value?.words"
    :struck="marks.marking.value?.struck"
    :others="marks.marking.value?.others"
    @close="marks.leave"
    @strike="marks.strike"
    @unstrike="marks.unstrike"
    @move="marks.move"
  />
</template>

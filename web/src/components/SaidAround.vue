<script setup lang="ts">
/** A label with one of its values set apart: the slot stands where the text has that value, whatever the order of the words. */
defineProps<{ parts: [string, string] }>()
</script>

<template>
  <span>{{ parts[0] }}<slot />{{ parts[1] }}</span>
</template>

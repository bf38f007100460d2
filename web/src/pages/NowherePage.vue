<script setup lang="ts">
import { RouterLink } from 'vue-router'
</script>

<template>
  <main class="p-6">
    <h1 class="text-2xl font-semibold">There is nothing at this address.</h1>
    <RouterLink to="/" class="link mt-3 inline-block">Back to the rack</RouterLink>
  </main>
</template>

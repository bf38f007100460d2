<script setup lang="ts">
import { RouterLink } from 'vue-router'
import { sayer } from '@/words/say'
import texts from '@/words/en/nowhere.json'

const says = sayer(texts)
</script>

<template>
  <main class="p-6">
    <h1 class="text-2xl font-semibold">{{ says('there-nothing-at-address') }}</h1>
    <RouterLink to="/" class="link mt-3 inline-block">{{ says('back-rack') }}</RouterLink>
  </main>
</template>

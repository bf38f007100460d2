<script setup lang="ts">
import { RouterLink } from 'vue-router'
import example from '../../../examples/sandpiper.csv?raw'
import { sayer } from '@/words/say'
import texts from '@/words/en/import.json'

/** What can be imported, while no file is chosen: layouts as people have them, and an example to try. */
const emit = defineEmits<{ example: [file: File] }>()
const says = sayer(texts)
const tryIt = () => emit('example', new File([example], 'sandpiper.csv', { type: 'text/csv' }))
const layouts = [
  {
    title: says('one-row-test'),
    rows: [
      ['date', 'km', '1', '2', '3', '4'],
      ['14.2.31', '41200', '172', '168', '171', '174'],
      ['3.6.31', '44950', '171', '151', '170', '173'],
    ],
  },
  {
    title: says('one-row-reading'),
    rows: [
      ['date', 'cyl', 'test', 'psi', 'heard'],
      ['14/02/31', '2', 'dry', '168', ''],
      ['14/02/31', '2', 'leak', '4 %', 'filler'],
    ],
  },
  {
    title: says('one-column-test'),
    rows: [
      ['cylinder', '2031-02-14', '2031-06-03'],
      ['1', '172', '171'],
      ['2', '168', '151'],
    ],
  },
]
</script>

<template>
  <div class="grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
    <section :aria-label="says('sheets-like-these')">
      <h2 class="border-b border-rule pb-1 font-semibold">{{ says('sheets-like-these') }}</h2>
      <div class="mt-3 flex flex-wrap gap-x-8 gap-y-5">
        <figure v-for="l in layouts" :key="l.title">
          <figcaption class="text-soft">{{ l.title }}</figcaption>
          <table class="figures mt-1 border-collapse bg-sheet text-[0.95rem]">
            <tbody>
              <tr v-for="(row, i) in l.rows" :key="i" :class="{ 'font-semibold': i === 0 }">
                <td v-for="(cell, j) in row" :key="j" class="border border-rule px-2 py-0.5">{{ cell }}</td>
              </tr>
            </tbody>
          </table>
        </figure>
      </div>
      <p class="mt-4 max-w-2xl">{{ says('headings-any-usual-words') }}</p>
      <button class="button-plain mt-3" data-example @click="tryIt">
        {{ says('try-example') }}
      </button>
    </section>
    <section :aria-label="says('other-ways')">
      <h2 class="border-b border-rule pb-1 font-semibold">{{ says('other-ways') }}</h2>
      <ul>
        <li class="border-b border-track py-2">
          <b class="font-semibold">{{ says('logs-from-another-braxel') }}</b> {{ says('with-their-photos-zip') }}
        </li>
        <li class="border-b border-track py-2">
          <b class="font-semibold">{{ says('tests-paper') }}</b> {{ says('open-engine-type-grid') }}
          <RouterLink to="/" class="link">{{ says('rack') }}</RouterLink>.
        </li>
        <li class="border-b border-track py-2">
          <b class="font-semibold">{{ says('whole-other-machine') }}</b> {{ says('sync-two-machines-under') }}
          <RouterLink to="/shop" class="link">{{ says('shop') }}</RouterLink>.
        </li>
      </ul>
    </section>
  </div>
</template>

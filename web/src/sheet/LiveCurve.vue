<script setup lang="ts">
import { useElementSize, useRafFn } from '@vueuse/core'
import { onMounted, useTemplateRef, watch } from 'vue'
import { useTheme } from '@/composables/usePreferences'
import type { LiveGauge } from './useGauge'

/** The curve of the pull as it comes: drawn once a frame of the screen, however fast the gauge speaks. */
const props = defineProps<{ live: LiveGauge; full: number }>()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width, height } = useElementSize(canvas)
const { theme } = useTheme()
let drawn = -1

const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim()

function draw() {
  const c = canvas.value
  if (!c || !width.value || drawn === props.live.frame.value) return
  drawn = props.live.frame.value
  const ratio = devicePixelRatio || 1
  c.width = width.value * ratio
  c.height = height.value * ratio
  const g = c.getContext('2d')
  if (!g) return
  g.scale(ratio, ratio)
  const { t, p } = props.live.curve()
  const span = Math.max(4, t.at(-1) ?? 0)
  const x = (s: number) => (s / span) * (width.value - 4) + 2
  const y = (v: number) => height.value - 3 - (Math.max(v, 0) / props.full) * (height.value - 8)
  g.strokeStyle = colour('track') || '#ddd'
  g.lineWidth = 1
  for (let i = 0; i <= 4; i++) {
    g.beginPath()
    g.moveTo(0, y((props.full * i) / 4))
    g.lineTo(width.value, y((props.full * i) / 4))
    g.stroke()
  }
  if (!t.length) return
  g.strokeStyle = colour('ink') || '#17242b'
  g.lineWidth = 2
  g.beginPath()
  // No screen has more columns than that.
  const step = Math.max(1, Math.floor(t.length / (2 * width.value)))
  for (let i = 0; i < t.length; i += step) g.lineTo(x(t[i]!), y(p[i]!))
  g.stroke()
}
useRafFn(draw)
onMounted(draw)
watch([width, height, theme, () => props.full], () => (drawn = -1))
</script>

<template>
  <canvas ref="canvas" class="block h-full w-full" aria-hidden="true" data-live-curve />
</template>

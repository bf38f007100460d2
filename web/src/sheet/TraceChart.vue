<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import UPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import { onBeforeUnmount, useTemplateRef, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { markOf } from './traces'

/** A recording over its time, with every compression that was found in it marked. */
const props = defineProps<{ trace: Schemas['Trace']; points: number[]; words: string }>()
const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(box)
let chart: UPlot | undefined

const ink = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim()

function draw() {
  chart?.destroy()
  if (!box.value || width.value < 40) return
  const soft = ink('soft') || '#55636a'
  const axis = { stroke: soft, grid: { stroke: ink('track') || '#ddd', width: 1 }, ticks: { show: false } }
  const marks = (u: UPlot) => {
    const { ctx } = u
    ctx.save()
    ctx.font = `${13 * devicePixelRatio}px monospace`
    ctx.textAlign = 'center'
    for (const [i, beat] of (props.trace.beats ?? []).entries()) {
      const x = u.valToPos(beat.seconds, 'x', true)
      ctx.strokeStyle = beat.whole ? ink('verdigris') || '#1c6b60' : soft
      ctx.lineWidth = 1.5 * devicePixelRatio
      ctx.beginPath()
      ctx.moveTo(x, u.bbox.top)
      ctx.lineTo(x, u.bbox.top + u.bbox.height)
      ctx.stroke()
      ctx.fillStyle = ink('ink') || '#17242b'
      ctx.fillText(markOf(beat, i), x, u.bbox.top + 12 * devicePixelRatio)
    }
    ctx.restore()
  }
  chart = new UPlot(
    {
      width: width.value,
      height: 260,
      legend: { show: false },
      cursor: { show: false },
      scales: { x: { time: false } },
      axes: [{ ...axis }, { ...axis, size: 56 }],
      series: [{}, { stroke: ink('ink') || '#17242b', width: 1.3, points: { show: false } }],
      hooks: { drawSeries: [marks] },
    },
    [props.points.map((_, i) => i * props.trace.seconds), props.points],
    box.value,
  )
}
watch([width, () => props.points], draw, { flush: 'post' })
onBeforeUnmount(() => chart?.destroy())
</script>

<template>
  <div ref="box" role="img" :aria-label="words" class="min-h-[260px] w-full" data-trace-chart />
</template>

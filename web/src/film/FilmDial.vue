<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { computed, nextTick, onBeforeUnmount, ref, shallowRef, useTemplateRef } from 'vue'
import type { Schemas } from '@/api/client'
import PanelDialog from '@/components/PanelDialog.vue'
import { figureOf, type PressureUnit } from '@/composables/figure'
import type { Work } from '@/composables/useSheet'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/film.json'
import DialMarks from './DialMarks.vue'
import FilmResult from './FilmResult.vue'
import { cropAbout, drawn, jpegsOf, play, shrinkOf, whole, type Crop } from './pictures'
import { useFilm, type Kind, type Marks } from './useFilm'

const says = sayer(texts)

/** A film of a gauge's dial, from a file or from the camera: its needle is read, shown for the person to accept, and handed on. */
export interface Filmed {
  value: number
  sd: number
  found?: Schemas['FilmFound']
  picture?: Blob
  dial: 'held' | 'supply'
}
const props = defineProps<{ work: Work; number: number; unit: PressureUnit; kind: Kind }>()
const emit = defineEmits<{ filmed: [Filmed] }>()

/** As long as is read; longer films are cut by whoever took them. */
const mostSeconds = 60
const together = 4 // pictures of a live camera

const film = useFilm()
const open = ref(false)
const step = ref<'choose' | 'mark' | 'read' | 'found'>('choose')
const dial = ref<'held' | 'supply'>('held')
const slow = ref(1)
const fault = ref('')
const name = ref('')
const video = useTemplateRef<HTMLVideoElement>('video')
const source = ref('')
const stills = shallowRef<Blob[]>([])
const first = shallowRef<{ url: string; crop: Crop }>()
const found = shallowRef<Schemas['FilmFound']>()
const figure = ref('')
const share = ref(0)
const live = ref(false)
let stream: MediaStream | undefined
let crop: Crop | undefined

const gauge = computed(() => {
  const session = props.work.sheet.value?.session
  return `${props.kind === 'leak-down' ? `${session?.kit}-${dial.value}` : session?.gauge}`
})
const cameraThere = computed(() => !!navigator.mediaDevices?.getUserMedia)

function forget() {
  live.value = false
  if (stream || source.value) video.value!.pause()
  stream?.getTracks().forEach((t) => t.stop())
  stream = undefined
  if (video.value) video.value.srcObject = null
  if (source.value) URL.revokeObjectURL(source.value)
  if (first.value) URL.revokeObjectURL(first.value.url)
  source.value = ''
  first.value = undefined
  found.value = undefined
  stills.value = []
  void film.end()
}
onBeforeUnmount(forget)

function begin() {
  forget()
  fault.value = film.fault.value = ''
  step.value = 'choose'
  open.value = true
}
function close() {
  open.value = false
  if (!live.value) forget()
}

/** What the video shows when it is there, to be marked. */
async function mark() {
  const v = video.value!
  const all = whole(v)
  const jpeg = await drawn(v, all, Math.min(1, 1280 / Math.max(all.w, all.h)))
  first.value = { url: URL.createObjectURL(jpeg), crop: all }
  step.value = 'mark'
}

async function choose(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  forget()
  fault.value = ''
  name.value = file.name
  const bytes = file.type.startsWith('video/') ? undefined : new Uint8Array(await file.arrayBuffer())
  const jpegs = bytes && jpegsOf(bytes)
  try {
    if (jpegs || file.type.startsWith('image/')) {
      stills.value = jpegs ? jpegs.map((j) => new Blob([j as BlobPart], { type: 'image/jpeg' })) : [file]
      const bitmap = await createImageBitmap(stills.value[0]!)
      first.value = { url: URL.createObjectURL(stills.value[0]!), crop: whole(bitmap) }
      step.value = 'mark'
      return
    }
    await watchIn(() => {
      source.value = URL.createObjectURL(file)
      video.value!.src = source.value
    })
    await seekTo(0)
    if (Number.isFinite(video.value!.duration) && video.value!.duration > mostSeconds)
      fault.value = says('film-too-long-s', { seconds: Math.round(video.value!.duration), most: mostSeconds })
    else await mark()
  } catch {
    fault.value = says('cant-play')
  }
}

/** Brings the video to a time and waits until that picture is there to be drawn. */
async function seekTo(seconds: number) {
  const v = video.value!
  const there = new Promise<void>((resolve) => v.requestVideoFrameCallback(() => resolve()))
  const late = new Promise<void>((resolve) => setTimeout(resolve, 1500))
  v.currentTime = seconds + 0.001
  await Promise.race([there, late])
}

/** Puts something into the video, and waits until it shows a picture. */
async function watchIn(put: () => void) {
  await nextTick()
  const v = video.value!
  await new Promise<void>((resolve, reject) => {
    v.onloadeddata = () => resolve()
    v.onerror = () => reject(new Error('video'))
    put()
  })
}

async function useCamera() {
  forget()
  fault.value = ''
  try {
    stream = await navigator.mediaDevices.getUserMedia({
      video: { facingMode: 'environment', width: { ideal: 1280 }, frameRate: { ideal: 60 } },
    })
    await watchIn(() => (video.value!.srcObject = stream!))
    await video.value!.play()
    await mark()
  } catch {
    fault.value = says(window.isSecureContext ? 'no-camera' : 'camera-secure')
  }
}

async function marked(marks: Marks) {
  const all = first.value!.crop
  const far = Math.max(...marks.points.map((p) => Math.hypot(p.at[0] - marks.centre[0], p.at[1] - marks.centre[1])))
  crop = cropAbout(marks.centre, far, all)
  fault.value = ''
  if (stream) return watchLive(marks)
  step.value = 'read'
  share.value = 0
  if (stills.value.length) await readStills(marks)
  else await readVideo(marks)
  if (film.fault.value) {
    fault.value = film.fault.value
    step.value = 'mark'
  }
}

/** How fast a file of pictures is, which does not say. */
const usualRate = 30
async function readStills(marks: Marks) {
  for (const [i, still] of stills.value.entries()) {
    const jpeg = await drawn(await createImageBitmap(still), crop!)
    const picture = { seconds: i / usualRate / slow.value, jpeg }
    if (i === 0 && !(await film.begin(picture, marks, crop!))) return
    await film.add(picture)
    share.value = (i + 1) / stills.value.length
  }
  await finish()
}

async function readVideo(marks: Marks) {
  const v = video.value!
  await seekTo(0)
  if (!(await film.begin({ seconds: 0, jpeg: await drawn(v, crop!) }, marks, crop!))) return
  const reading = play(
    v,
    async (seconds) => {
      film.add({ seconds: seconds / slow.value, jpeg: await drawn(v, crop!) })
      share.value = Number.isFinite(v.duration) ? seconds / v.duration : 0
    },
    () => open.value && !film.fault.value,
  )
  await v.play()
  await reading
  if (open.value && !film.fault.value) await finish()
}

async function finish() {
  share.value = 1
  found.value = await film.read(
    props.work.engine,
    props.number,
    props.unit,
    name.value,
    stills.value.length === 1 ? undefined : props.kind,
  )
  if (!found.value) return
  figure.value = found.value.value === undefined ? '' : String(found.value.value)
  step.value = 'found'
  keepPicture()
}

/** The picture of the reading is kept with it. */
const kept = shallowRef<Blob>()
function keepPicture() {
  const far = (p: { seconds: number }) => Math.abs(p.seconds - found.value!.top)
  kept.value = [...film.pictures.value].sort((a, b) => far(a) - far(b))[0]?.jpeg
}
const size = computed(() => {
  const k = crop ? shrinkOf(crop) : 1
  return { w: (crop?.w ?? 1) * k, h: (crop?.h ?? 1) * k }
})
function save() {
  const value = figureOf(figure.value.trim())
  if (value === undefined || Number.isNaN(value)) return
  // A figure that was corrected is the person's own.
  const sd = value === found.value!.value ? (found.value!.camera_sd ?? 0) : 0
  emit('filmed', { value, sd, found: found.value, picture: kept.value, dial: dial.value })
  close()
}

/** The camera is looked at while it films: the gauge on the sheet is it. */
async function watchLive(marks: Marks) {
  const v = video.value!
  const began = performance.now()
  const take = async () => ({ seconds: (performance.now() - began) / 1000, jpeg: await drawn(v, crop!) })
  if (!(await film.begin(await take(), marks, crop!, props.kind))) {
    fault.value = film.fault.value
    return
  }
  live.value = true
  open.value = false
  let busy = 0
  void play(
    v,
    async () => {
      if (busy > 1) return // what can't be read in time is left out
      busy++
      void film.add(await take(), together)!.finally(() => busy--)
    },
    () => live.value,
  )
}
const sight = computed(() => film.last.value)
const inView = computed(() => live.value && crop && `${crop.x} ${crop.y} ${crop.w} ${crop.h}`)
const line = computed(() => {
  if (!sight.value || !crop) return undefined
  const k = shrinkOf(crop)
  const out = (p: number[]) => ({ x: p[0]! / k + crop!.x, y: p[1]! / k + crop!.y })
  return { a: out(sight.value.from), b: out(sight.value.to) }
})
const liveValue = computed(() => sight.value && rounded(sight.value.value, 1))
async function thatIsIt() {
  if (!sight.value) return
  emit('filmed', {
    value: Math.round(sight.value.value * 10) / 10,
    sd: 0,
    picture: await drawn(video.value!, crop!),
    dial: dial.value,
  })
}
</script>

<template>
  <div class="mt-2">
    <button v-if="!live" class="link min-h-11" :disabled="!work.sheet.value?.session.open" data-film @click="begin">
      {{ says('film-it') }}
    </button>
    <!-- The video is one and the same, on the dialog and on the sheet. -->
    <section
      :aria-label="says('filming')"
      :class="{ 'pointer-events-none fixed size-px overflow-hidden opacity-0': !live }"
      :inert="!live"
      data-film-live
    >
      <div class="flex items-center gap-4">
        <div class="relative w-40 shrink-0 overflow-hidden bg-track">
          <svg v-if="inView" :viewBox="inView" class="absolute inset-0 z-10 size-full">
            <line
              v-if="line && sight!.sure >= 0.5"
              :x1="line.a.x"
              :y1="line.a.y"
              :x2="line.b.x"
              :y2="line.b.y"
              class="stroke-act"
              :stroke-width="crop!.w / 90"
              data-film-line
            />
          </svg>
          <video
            ref="video"
            muted
            playsinline
            class="block max-w-none"
            :style="
              crop && live
                ? {
                    width: `${(100 * (first?.crop.w ?? 1)) / crop.w}%`,
                    marginLeft: `${(-100 * crop.x) / crop.w}%`,
                    marginTop: `${(-100 * crop.y) / crop.w}%`,
                    marginBottom: `${(-100 * ((first?.crop.h ?? 0) - crop.y - crop.h)) / crop.w}%`,
                  }
                : { width: '1px' }
            "
          />
        </div>
        <div>
          <p class="figures text-5xl font-semibold" role="status" data-film-value>
            {{ sight && sight.sure >= 0.5 ? liveValue : '–' }}
          </p>
          <p class="text-soft">
            {{ sight && sight.sure >= 0.5 ? says('pictures-read', { n: film.sent.value }) : says('needle-not-seen') }}
          </p>
          <button
            v-if="kind === 'leak-down' && sight"
            class="button-main min-h-12 px-4"
            data-that-is-it
            @click="thatIsIt"
          >
            {{ says('that-is-it', { value: liveValue! }) }}
          </button>
          <button class="link min-h-11" data-film-stop @click="forget">{{ says('close') }}</button>
        </div>
      </div>
    </section>

    <PanelDialog :open="open" class="max-w-3xl! self-start" @close="close">
      <DialogTitle class="text-2xl font-semibold">{{ says('film-dial') }}</DialogTitle>
      <p v-if="fault" class="mt-2 border-l-4 border-watch pl-3 text-lg" role="alert" data-film-fault>{{ fault }}</p>

      <template v-if="step === 'choose'">
        <p class="mt-1 text-soft">{{ says('why-film') }}</p>
        <fieldset v-if="kind === 'leak-down'" class="mt-3 flex gap-5">
          <legend class="text-soft">{{ says('which-dial') }}</legend>
          <label v-for="d in ['held', 'supply'] as const" :key="d" class="flex min-h-11 items-center gap-2"
            ><input v-model="dial" type="radio" name="dial" :value="d" /> {{ says(d) }}</label
          >
        </fieldset>
        <div class="mt-4 flex flex-wrap items-center gap-3">
          <label class="button-main flex min-h-12 cursor-pointer items-center px-6"
            >{{ says('choose-film')
            }}<input class="sr-only" type="file" accept="video/*,image/*,.mjpeg,.mjpg" data-film-file @change="choose"
          /></label>
          <button v-if="cameraThere" class="button-plain min-h-12 px-4" data-film-camera @click="useCamera">
            {{ says('use-camera') }}
          </button>
          <p v-else class="text-soft">{{ says('camera-secure') }}</p>
        </div>
      </template>

      <template v-if="step === 'mark' && first">
        <DialMarks
          :key="first.url"
          class="mt-3"
          :picture="first.url"
          :width="first.crop.w"
          :height="first.crop.h"
          :unit="unit"
          :gauge="gauge"
          :does="stream ? says('start') : says('read-it')"
          @marked="marked"
        >
          <label v-if="!stream && stills.length !== 1" class="flex items-center gap-2 text-soft"
            >{{ says('slow-motion') }}
            <select v-model.number="slow" class="field w-auto">
              <option :value="1">{{ says('as-filmed') }}</option>
              <option v-for="n in [2, 4, 8]" :key="n" :value="n">{{ says('times-slower', { n }) }}</option>
            </select></label
          >
        </DialMarks>
      </template>

      <div v-if="step === 'read'" class="mt-4">
        <progress class="h-3 w-full accent-verdigris" :value="share" max="1" :aria-label="says('reading-film')" />
        <p class="text-soft" role="status">
          {{ share < 1 ? says('reading-film') : says('working-out') }} ·
          {{ says('pictures-read', { n: film.sent.value }) }}
        </p>
      </div>

      <FilmResult
        v-if="step === 'found' && found"
        v-model="figure"
        :found="found"
        :unit="unit"
        :picture="kept"
        :size="size"
        :field="kind === 'leak-down'"
        @save="save"
        @again="begin"
      />
      <button v-if="step !== 'found'" class="link mt-3 min-h-11" @click="close">{{ says('cancel') }}</button>
    </PanelDialog>
  </div>
</template>

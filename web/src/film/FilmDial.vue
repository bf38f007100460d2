<script setup lang="ts">
import { DialogTitle } from '@headlessui/vue'
import { computed, onBeforeUnmount, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { practice } from '@/api/base'
import type { Schemas } from '@/api/client'
import PanelDialog from '@/components/PanelDialog.vue'
import { figureOf, type PressureUnit } from '@/composables/figure'
import type { Work } from '@/composables/useSheet'
import { rounded, sayer } from '@/words/say'
import texts from '@/words/en/film.json'
import { latest } from '@/composables/latest'
import DialMarks from './DialMarks.vue'
import FilmResult from './FilmResult.vue'
import { cropAbout, drawn, play, shrinkOf, whole, type Crop, type Drawn } from './pictures'
import SlowMotion from './SlowMotion.vue'
import { useSource } from './useSource'
import { believed, useFilm, type Kind, type Marks, type Point } from './useFilm'

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

const film = useFilm(() => props.unit)
const open = ref(false)
const step = ref<'choose' | 'mark' | 'read' | 'found'>('choose')
const dial = ref<'held' | 'supply'>('held')
const slower = ref(0)
const fault = ref('')
const video = useTemplateRef<HTMLVideoElement>('video')
const source = useSource(video)
const { stills, stream, name } = source
const first = shallowRef<{ url: string; crop: Crop; small: Blob }>()
const known = shallowRef<Marks>()
const found = shallowRef<Schemas['FilmFound']>()
const figure = ref('')
const share = ref(0)
const live = ref(false)
let crop: Crop | undefined

const gauge = computed(() => {
  const session = props.work.sheet.value?.session
  return props.kind === 'leak-down' ? `${session?.kit ?? ''}-${dial.value}` : (session?.gauge ?? '')
})
const cameraThere = computed(() => practice || !!navigator.mediaDevices?.getUserMedia)

function forget() {
  live.value = false
  source.forget()
  if (first.value) URL.revokeObjectURL(first.value.url)
  first.value = undefined
  found.value = undefined
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

/** Shows the first picture, to be marked, and looks for the gauge's dial in it. */
async function mark(from: Drawn = video.value!) {
  const all = whole(from)
  const jpeg = await drawn(from, all, shrinkOf(all, 1280))
  known.value = undefined
  first.value = { url: URL.createObjectURL(jpeg), crop: all, small: await drawn(from, all, shrinkOf(all, small)) }
  step.value = 'mark'
  void recognise()
}

/** As many dots of the first picture's longer side are enough to find a dial in it. */
const small = 640
const recognise = latest(
  async (tap?: Point) => {
    const k = shrinkOf(first.value!.crop, small)
    const out = ([x, y]: number[]): Point => [x! / k, y! / k]
    const face = await film.face(first.value!.small, gauge.value, tap && [tap[0] * k, tap[1] * k])
    if (!face?.points) return undefined
    const points = face.points.map((p) => ({ at: out(p.at), value: p.value }))
    return { centre: out(face.centre), points, unit: face.unit! }
  },
  (marks) => (known.value = marks),
)

async function choose(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  forget()
  fault.value = ''
  try {
    await source.open(file)
    if (stills.value.length) return await mark(await createImageBitmap(stills.value[0]!))
    const { duration } = video.value!
    if (Number.isFinite(duration) && duration > mostSeconds)
      fault.value = says('film-too-long-s', { seconds: Math.round(duration), most: mostSeconds })
    else await mark()
  } catch {
    fault.value = says('cant-play')
  }
}

async function useCamera() {
  forget()
  fault.value = ''
  try {
    await source.openCamera(props.kind === 'leak-down' ? `air=true&dial=${dial.value}` : '')
    await mark()
  } catch {
    fault.value = says(window.isSecureContext ? 'no-camera' : 'camera-secure')
  }
}

async function marked(marks: Marks, byHand: boolean) {
  const all = first.value!.crop
  const far = Math.max(...marks.points.map((p) => Math.hypot(p.at[0] - marks.centre[0], p.at[1] - marks.centre[1])))
  crop = cropAbout(marks.centre, far, all)
  fault.value = ''
  const whose = byHand ? gauge.value : undefined
  if (stream.value) return watchLive(marks, whose)
  step.value = 'read'
  share.value = 0
  if (stills.value.length) await readStills(marks, whose)
  else await readVideo(marks, whose)
  if (film.fault.value) {
    fault.value = film.fault.value
    step.value = 'mark'
  }
}

/** How fast a file of pictures is, which does not say. */
const usualRate = 30
async function readStills(marks: Marks, whose?: string) {
  for (const [i, still] of stills.value.entries()) {
    const jpeg = await drawn(await createImageBitmap(still), crop!)
    const picture = { seconds: i / usualRate, jpeg }
    if (i === 0 && !(await film.begin(picture, marks, crop!, { gauge: whose }))) return
    await film.add(picture)
    share.value = (i + 1) / stills.value.length
  }
  await finish()
}

async function readVideo(marks: Marks, whose?: string) {
  const v = video.value!
  await source.seekTo(0)
  const begins = { seconds: 0, jpeg: await drawn(v, crop!) }
  if (!(await film.begin(begins, marks, crop!, { gauge: whose }))) return
  const reading = play(
    v,
    async (seconds) => {
      film.add({ seconds, jpeg: await drawn(v, crop!) })
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
    slower.value || undefined,
  )
  if (!found.value) return
  figure.value = found.value.value === undefined ? '' : String(found.value.value)
  step.value = 'found'
  keepPicture()
}

/** Read again as filmed faster or slower. */
watch(slower, () => step.value === 'found' && void finish())
const pointed = latest(
  (seconds: number, at: Point) => film.point(seconds, at),
  (value) => value !== undefined && (figure.value = String(value)),
)

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

/** As many pictures of a live camera may be on their way. */
const mostBusy = 7
/** The camera is looked at while it films: the gauge on the sheet is it. */
async function watchLive(marks: Marks, whose?: string) {
  const v = video.value!
  const began = performance.now()
  const take = async () => ({ seconds: (performance.now() - began) / 1000, jpeg: await drawn(v, crop!) })
  if (!(await film.begin(await take(), marks, crop!, { live: props.kind, gauge: whose }))) {
    fault.value = film.fault.value
    return
  }
  live.value = true
  open.value = false
  let busy = 0
  void play(
    v,
    async () => {
      if (busy > mostBusy) return // what can't be read in time is left out
      busy++
      void film.add(await take()).finally(() => busy--)
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
/** The picture of the reading that a live camera has just come to, once. */
const picture = () => (live.value ? film.takeTop() : undefined)
defineExpose({ picture })
const liveValue = computed(() => sight.value && rounded(sight.value.value, 1))
async function thatIsIt() {
  if (!sight.value) return
  emit('filmed', {
    value: Math.round(sight.value.value * 10) / 10,
    sd: film.sd.value,
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
              v-if="line && sight!.sure >= believed"
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
            {{ sight && sight.sure >= believed ? liveValue : '–' }}
          </p>
          <p class="text-soft">
            {{
              sight && sight.sure >= believed ? says('pictures-read', { n: film.sent.value }) : says('needle-not-seen')
            }}
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
          :known="known"
          @marked="marked"
          @middle="recognise"
        >
          <SlowMotion v-if="!stream && stills.length !== 1" v-model="slower" />
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
        v-model:slower="slower"
        :found="found"
        :unit="unit"
        :picture="kept"
        :size="size"
        :field="kind === 'leak-down'"
        @save="save"
        @again="begin"
        @point="pointed"
      />
      <button v-if="step !== 'found'" class="link mt-3 min-h-11" @click="close">{{ says('cancel') }}</button>
    </PanelDialog>
  </div>
</template>

import { watchDebounced } from '@vueuse/core'
import { ref, type Ref } from 'vue'
import { api, ask, Refused, type Schemas } from '@/api/client'
import { figureOf, noFigure } from '@/composables/figure'
import { latest } from '@/composables/latest'
import type { Work } from '@/composables/useSheet'

type Body = Omit<Schemas['LeakBody'], 'test'>

/** What a leak-down comes to, as it is typed. Nothing typed asks nothing, and an answer that is still on its way is for nobody. */
export function useLeakPreview(work: Work, figures: Ref<string>[], others: Ref<unknown>[], body: () => Body) {
  const preview = ref<Schemas['Preview']>()
  const fault = ref('')
  const reckon = latest(
    async (typed: boolean) => {
      if (!typed) return {}
      const { engine, session } = work
      try {
        const options = { params: { path: { engine, session } }, body: { ...body(), test: session } }
        return { preview: await ask(api.POST('/api/engines/{engine}/sessions/{session}/preview', options)) }
      } catch (error) {
        return error instanceof Refused ? { fault: error.message } : {}
      }
    },
    (came: { preview?: Schemas['Preview']; fault?: string }) => {
      preview.value = came.preview
      if (came.fault) fault.value = came.fault
    },
  )
  watchDebounced(
    [...figures, ...others],
    () => {
      preview.value = undefined
      fault.value = ''
      const all = figures.every((f) => f.value !== '')
      const wrong = figures.find((f) => Number.isNaN(figureOf(f.value)))
      if (all && wrong) fault.value = noFigure(wrong.value)
      return reckon(all && !wrong)
    },
    { debounce: 80 },
  )
  return { preview, fault }
}

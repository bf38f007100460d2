import { watchDebounced } from '@vueuse/core'
import { ref, watch, type Ref } from 'vue'
import { faultOf, Refused, type Problem } from '@/api/client'
import type { Tool } from './tools'
import { figureOf, figuresOf } from '@/composables/figure'
import { shown, toSum, typedAs, unitOf, type Quantity } from './units'
import { base } from '@/api/base'
import { sayer } from '@/words/say'
import texts from '@/words/en/sums.json'

const says = sayer(texts)

export type Answer = Record<string, number | number[]>
type Given = Record<string, number | number[] | number[][]>

const numbers = (line: string, q: Quantity) => figuresOf(line).map((v) => toSum(v, q))

/** What is typed in a tool's fields, as the sum takes it; fields left empty are left out. */
export function given(tool: Tool, typed: Record<string, string>): Given {
  const body: Given = {}
  for (const f of tool.fields) {
    const text = (typed[f.key] ?? '').trim()
    if (text === '') continue
    if (!Array.isArray(f.start)) body[f.key] = toSum(figureOf(text)!, f.quantity)
    else if (Array.isArray(f.start[0])) body[f.key] = text.split('\n').map((line) => numbers(line, f.quantity))
    else body[f.key] = numbers(text, f.quantity)
  }
  return body
}

/** A field's figure as it is typed, from the sum's own unit. */
export function written(value: number | number[] | number[][] | undefined, q: Quantity): string {
  if (value === undefined) return ''
  if (!Array.isArray(value)) return typedAs(value, q)
  return Array.isArray(value[0])
    ? value.map((line) => written(line as number[], q)).join('\n')
    : (value as number[]).map((v) => typedAs(v, q)).join(' ')
}

/** Why a figure was refused, its bounds in the unit that it was typed in. */
export function refusalOf(problem: Problem | undefined, field: string, q: Quantity): string | undefined {
  const error = problem?.errors?.find((e) => e.location === `body.${field}`)
  const bounds = error?.value as { low: number; high: number } | undefined
  if (!bounds) return faultOf(problem, field)
  const what = q === 'pressure' || q === 'air' ? says('pressure') : says('number')
  return says('must-between', { what, low: shown(bounds.low, q), high: shown(bounds.high, q), unit: unitOf(q) }).trim()
}

/** Asks the server for the sum as its fields are typed. The last good answer stays when the next is refused. */
export function useSum(tool: Ref<Tool>, typed: Ref<Record<string, string>>) {
  const answer = ref<Answer>()
  const problem = ref<Problem>()
  const figures = ref<Given>({})
  watch(tool, () => (answer.value = undefined))
  watchDebounced([tool, typed], ask, { debounce: 60, deep: true, immediate: true })

  let latest = 0
  async function ask() {
    const turn = ++latest
    const body = given(tool.value, typed.value)
    try {
      const got = await post(tool.value.sum, body)
      if (turn !== latest) return
      answer.value = got
      figures.value = body
      problem.value = undefined
    } catch (error) {
      if (turn !== latest) return
      problem.value = error instanceof Refused ? error.problem : { detail: says('cant-reach-braxel') }
    }
  }
  return { answer, problem, figures }
}

async function post(sum: string, body: Given): Promise<Answer> {
  const response = await fetch(`${base}/api/sums/${sum}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  })
  if (!response.ok) throw new Refused(response.status, (await response.json()) as Problem)
  return (await response.json()) as Answer
}

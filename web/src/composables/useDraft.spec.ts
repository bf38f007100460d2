// @vitest-environment jsdom
import { beforeEach, describe, expect, it } from 'vitest'
import { nextTick, reactive } from 'vue'
import { useDraft } from './useDraft'

const form = () => reactive({ name: '', bore: '' })
const draft = (f: ReturnType<typeof form>) =>
  useDraft(
    'engine',
    () => f,
    (t: typeof f) => void Object.assign(f, t),
  )

describe('a draft', () => {
  beforeEach(() => sessionStorage.clear())
  it('comes back after the form was left', async () => {
    const one = form()
    draft(one).begin()
    one.name = 'Siskin'
    await nextTick()
    const other = form()
    const again = draft(other)
    again.begin()
    expect(other.name).toBe('Siskin')
    expect(again.restored.value).toBe(true)
    again.afresh()
    expect(other.name).toBe('')
  })
  it('is gone once it is kept, and where nothing was typed', async () => {
    const one = form()
    const d = draft(one)
    d.begin()
    one.name = 'Siskin'
    await nextTick()
    d.done()
    const other = form()
    const again = draft(other)
    again.begin()
    expect(other.name).toBe('')
    expect(again.restored.value).toBe(false)
  })
})

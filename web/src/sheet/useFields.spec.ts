import { describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import { useFields } from './useFields'

function bench() {
  const supply = ref('100')
  const held = ref('')
  const typed = vi.fn()
  const fields = useFields({ supply, held }, 'held', typed)
  return { supply, held, typed, fields }
}

describe('the fields of a step', () => {
  it('take what is typed into the one in hand', () => {
    const { supply, held, typed, fields } = bench()
    for (const key of '9,5') fields.digit(key)
    expect(held.value).toBe('9,5')
    fields.digit('.') // one comma or point at most
    fields.back()
    expect(held.value).toBe('9,')
    expect(supply.value).toBe('100')
    expect(typed).toHaveBeenCalledTimes(5)
  })
  it('begin anew what stood there before, at the first digit alone', () => {
    const { supply, fields } = bench()
    fields.take('supply', true)
    fields.digit('7')
    fields.digit('0')
    expect(supply.value).toBe('70')
    fields.take('supply', true) // it is in hand already
    fields.digit('0')
    expect(supply.value).toBe('700')
  })
  it('give the focus to the one in hand, or to another', () => {
    const { fields } = bench()
    const input = { focus: vi.fn(), select: vi.fn() }
    fields.input('supply')(input)
    fields.focus()
    expect(input.focus).not.toHaveBeenCalled()
    fields.focus('supply')
    expect(input.focus).toHaveBeenCalled()
    fields.take('supply', true)
    expect(input.select).toHaveBeenCalled()
  })
})

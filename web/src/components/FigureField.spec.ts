// @vitest-environment jsdom
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import FigureField from './FigureField.vue'

const field = (modelValue: number | undefined) => {
  const said: (number | undefined)[] = []
  const box = mount(FigureField, {
    props: { label: 'Bore, mm', modelValue, 'onUpdate:modelValue': (v: number | undefined) => said.push(v) },
  })
  return { box, said, input: box.find('input') }
}

describe('a figure of a form', () => {
  it('takes a comma as it takes a point, and stands as it was typed', async () => {
    const { box, said, input } = field(undefined)
    for (const text of ['87,5', '87.50', '0']) {
      await input.setValue(text)
      await box.setProps({ modelValue: said.at(-1) })
      expect(input.element.value).toBe(text)
    }
    expect(said).toEqual([87.5, 0])
  })
  it('says what is none, and is none', async () => {
    const { box, said, input } = field(3)
    await input.setValue('8x')
    expect(said.at(-1)).toBeNaN()
    expect(box.find('[data-fault]').text()).toContain('“8x” is not a number')
    await box.setProps({ modelValue: NaN })
    expect(input.element.value).toBe('8x')
    await input.setValue('')
    expect(said.at(-1)).toBeUndefined()
    expect(box.find('[data-fault]').exists()).toBe(false)
  })
  it('shows what comes from elsewhere', async () => {
    const { box, input } = field(3)
    expect(input.element.value).toBe('3')
    await box.setProps({ modelValue: 4.25 })
    await nextTick()
    expect(input.element.value).toBe('4.25')
  })
})

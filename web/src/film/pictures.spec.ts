// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import { cropAbout, jpegsOf, shrinkOf } from './pictures'
import { rememberedMarks } from './remembered'

describe('the pictures of a film', () => {
  const whole = { x: 0, y: 0, w: 1920, h: 1080 }

  it('cuts to the dial, and never beyond the picture', () => {
    expect(cropAbout([960, 540], 100, whole)).toEqual({ x: 750, y: 330, w: 420, h: 420 })
    const corner = cropAbout([30, 1060], 100, whole)
    expect([corner.x, corner.y]).toEqual([0, 850])
    expect([corner.x + corner.w, corner.y + corner.h]).toEqual([240, 1080])
  })

  it('sends no more dots than are read, and no fewer than there are', () => {
    expect(shrinkOf(whole)).toBe(0.25)
    expect(shrinkOf({ x: 5, y: 5, w: 200, h: 300 })).toBe(1)
  })

  it('cuts pictures that stand one after the other, at their ends alone', () => {
    const one = [0xff, 0xd8, 0xff, 0xe0, 1, 0xff, 0xd9, 2, 0xff, 0xd9]
    const two = [0xff, 0xd8, 0xff, 0xdb, 9, 0xff, 0xd9]
    expect(jpegsOf(new Uint8Array([...one, ...two]))?.map((p) => [...p])).toEqual([one, two])
    expect(jpegsOf(new Uint8Array([0x89, 0x50, 0x4e, 0x47]))).toBeUndefined()
    expect(jpegsOf(new Uint8Array([]))).toBeUndefined()
  })
})

describe('what is remembered of a dial', () => {
  it('is of one gauge, and nothing that is broken', () => {
    expect(rememberedMarks('a')).toEqual({})
    rememberedMarks('a', { unit: 'bar', figures: ['0', '10', '16'] })
    expect(rememberedMarks('a').figures).toEqual(['0', '10', '16'])
    expect(rememberedMarks('b')).toEqual({})
    localStorage.setItem('braxel.dial.b', '{"figures":7')
    expect(rememberedMarks('b')).toEqual({})
  })
})

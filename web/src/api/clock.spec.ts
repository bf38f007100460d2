// @vitest-environment jsdom
import { beforeEach, describe, expect, it, vi } from 'vitest'

const hour = 3_600_000
const at = (iso: string) => vi.setSystemTime(new Date(iso))
const says = (all: Record<string, string>) => new Headers(all)

beforeEach(() => {
  vi.useFakeTimers()
  vi.resetModules()
  localStorage.clear()
})

describe('the time of an entry', () => {
  it('is after all that this device was told of, whatever its clock says', async () => {
    at('2033-04-02T09:00:00.000Z')
    const { heardFrom, stamp } = await import('./clock')
    expect(stamp()).toEqual({ at: '2033-04-02T09:00:00.000Z' })
    heardFrom(says({ 'Braxel-Seen': '2033-04-02T10:00:00.000Z' }), false)
    expect(stamp()).toEqual({ at: '2033-04-02T10:00:00.001Z', clock: '2033-04-02T09:00:00.000Z' })
    // Of two entries of one moment the second is later, also after the page was loaded anew, and with the clock set back.
    expect(stamp().at).toBe('2033-04-02T10:00:00.002Z')
    vi.resetModules()
    at('2033-04-02T07:00:00.000Z')
    expect((await import('./clock')).stamp().at).toBe('2033-04-02T10:00:00.003Z')
    at('2033-04-02T11:00:00.000Z')
    expect((await import('./clock')).stamp()).toEqual({ at: '2033-04-02T11:00:00.000Z' })
  })

  it.each([-3 * hour, -6 * 60_000, -60_000, 0, 60_000, 6 * 60_000, 12 * 365 * 24 * hour])(
    'is the server’s where this device is off by %i ms, more than five minutes',
    async (off) => {
      at('2033-04-02T09:00:00.000Z')
      const clock = await import('./clock')
      clock.heardFrom(says({ Date: new Date(Date.now() - off).toUTCString() }), true)
      const far = Math.abs(off) > clock.tolerated
      expect(clock.off.value !== 0).toBe(far)
      const stamped = clock.stamp()
      expect(Date.parse(stamped.at)).toBe(Date.now() - (far ? off : 0))
      expect(stamped.clock !== undefined).toBe(far)
    },
  )

  it('is not taken from an answer that the browser kept', async () => {
    at('2033-04-02T09:00:00.000Z')
    const clock = await import('./clock')
    clock.heardFrom(says({ Date: 'Fri, 01 Apr 2033 09:00:00 GMT', 'Braxel-Day': '2033-04-01' }), false)
    expect(clock.off.value).toBe(0)
    clock.heardFrom(says({ 'Braxel-Day': '2033-04-02' }), true)
    clock.heardFrom(says({ 'Braxel-Day': '2033-04-01' }), false)
    expect(clock.today()).toBe('2033-04-02')
  })
})

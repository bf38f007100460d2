// @vitest-environment jsdom
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import BorePlan from './BorePlan.vue'
import CauseList from './CauseList.vue'
import DueLine from './DueLine.vue'
import Schools from './Schools.vue'
import StateMark from './StateMark.vue'

describe('StateMark', () => {
  it('tells each state without its colour: a word, and punch marks by its severity', () => {
    const dots = { steady: 0, retest: 1, watch: 1, act: 2, stop: 3 } as const
    for (const [state, n] of Object.entries(dots)) {
      const mark = mount(StateMark, { props: { state: state as keyof typeof dots } })
      expect(mark.text()).toBe(state)
      expect(mark.findAll('[aria-hidden]')).toHaveLength(n)
    }
  })
})

describe('CauseList', () => {
  const cause = (words: string, probability: number, against: string[] = []) => ({
    cause: words,
    words,
    cylinders: [3],
    probability,
    for: ['air at the exhaust'],
    against,
  })
  const list = mount(CauseList, {
    props: {
      causes: [
        cause('exhaust valve', 0.995),
        cause('intake valve', 0.02, ['nothing at the intake']),
        cause('rings', 0.004),
      ],
      next: { test: 'wet', words: 'Crank it wet', step: 'wet', cylinders: [3, 5, 7], why: 'six minutes' },
    },
  })

  it('shows what is worth showing, no surer than it is', () => {
    expect(list.findAll('dt').map((d) => d.text())).toEqual(['exhaust valve, 3', 'intake valve, 3'])
    expect(list.text()).toContain('> 99 %')
    expect(list.text()).toContain('against it: nothing at the intake')
  })

  it('offers the next test as a button', async () => {
    expect(list.text()).toContain('Crank it wet (3, 5 and 7).')
    await list.get('button').trigger('click')
    expect(list.emitted('next')).toHaveLength(1)
  })
})

describe('DueLine', () => {
  const due = { by_meter: 37.4, by_date: '2032-07-24', why: 'at this pace it leaks' }

  it('says by which meter or date, and why', () => {
    const text = mount(DueLine, { props: { due, unit: 'h' } })
      .text()
      .replace(/\s+/g, ' ')
    expect(text).toBe('Next test by 37 h or 24 Jul 2032: at this pace it leaks.')
  })

  it('is short on the rack, and goes without a meter', () => {
    const short = mount(DueLine, { props: { due: { by_date: '2032-07-24', why: '' }, short: true } })
    expect(short.text().replace(/\s+/g, ' ')).toBe('due 24 Jul 2032')
  })
})

describe('Schools', () => {
  it('shows each school, and why Braxel differs', () => {
    const schools = mount(Schools, {
      props: {
        judgements: [
          { school: '10', words: 'lowest within 10 % of the highest', passes: true, says: '6.6 % below it' },
          { school: '5', words: 'lowest within 5 % of the highest', passes: false, says: '6.6 % below it' },
        ],
        beside: 'Braxel holds each cylinder against its own baseline.',
      },
    })
    expect(schools.findAll('dl > div').map((r) => r.text().slice(-5))).toEqual(['holds', 'fails'])
    expect(schools.get('[data-beside]').text()).toContain('own baseline')
  })
})

describe('BorePlan', () => {
  const plan = mount(BorePlan, {
    props: {
      layout: { banks: [[1, 2, 3]] },
      bores: [
        { cylinder: 1, place: 'front', reading: '172', change: '−0.6%', leak: 4, state: 'steady' },
        { cylinder: 2, reading: '144', change: '−15.4%', leak: 18, state: 'act' },
        { cylinder: 3 },
      ],
      current: 2,
    },
  })

  it('says of each bore what it shows', () => {
    const titles = plan.findAll('title').map((t) => t.text())
    expect(titles[0]).toBe('Cylinder 1, front, reads 172, changed −0.6%, leaks 4 percent, steady')
    expect(titles[2]).toBe('Cylinder 3')
  })

  it('is the navigation, by tap and by key', async () => {
    const bores = plan.findAll('[role=button]')
    await bores[0]!.trigger('click')
    await bores[2]!.trigger('keydown', { key: 'Enter' })
    expect(plan.emitted('pick')).toEqual([[1], [3]])
    expect(bores[1]!.attributes('aria-pressed')).toBe('true')
  })

  it('is only a picture where it is small', () => {
    const mini = mount(BorePlan, { props: { layout: { banks: [[1]] }, bores: [{ cylinder: 1 }], mini: true } })
    expect(mini.find('[role=button]').exists()).toBe(false)
    expect(mini.get('svg').attributes('role')).toBe('img')
  })
})

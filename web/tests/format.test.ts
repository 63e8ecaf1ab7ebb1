import { afterEach, describe, expect, it } from 'vitest'
import {
  age,
  at,
  clock,
  count,
  day,
  dayAndClock,
  every,
  type Forms,
  instantOf,
  milliseconds,
  move,
  plural,
  sentence,
  setForms,
  share,
  shownOf,
  startOfDay,
  startOfWeek,
  value,
} from '../src/shared/format'
import { same } from '../src/shared/same'
import { apart, shown } from '../src/shared/shown'

describe('values', () => {
  it('are written as their type is read', () => {
    expect(value('12.5', 'money')).toBe('12.50')
    expect(value('-1234.5', 'money')).toBe('−1,234.50')
    expect(value('0.123456', 'money')).toBe('0.123456')
    expect(value('12345', 'integer')).toBe('12,345')
    expect(value('0012', 'code')).toBe('0012')
    expect(value('12', 'text')).toBe('12')
    expect(value('["a","b"]', 'list')).toBe('a · b')
    expect(value(null, 'money')).toBe('–')
    expect(value('', 'money')).toBe('')
    expect(value('not a number', 'money')).toBe('not a number')
  })

  it('that are no list are left alone', () => {
    expect(shown('[not json')).toBe('[not json')
    expect(shown('{"a":1}')).toBe('{"a":1}')
    expect(shown('[]')).toBe('')
  })

  it('begin where they part from another', () => {
    const here = 'A long text that begins the same on both sides and ends here'
    const there = 'A long text that begins the same on both sides and ends there'
    expect(apart(here, there)).toBe('…ends here')
    expect(apart(here, here)).toBe(here)
    expect(apart('short', 'shore')).toBe('short')
  })
})

describe('moves and shares', () => {
  it('have their sign and their unit', () => {
    expect(move(12.345, '%')).toBe('+12.3 %')
    expect(move(-3, 'pcs')).toBe('−3 pcs')
    expect(move(0, '%')).toBe('0.0 %')
    expect(move(2, null)).toBe('+2')
    expect(move(null, '%')).toBe('')
  })

  it('are never said to be whole before they are', () => {
    expect(share(999, 1000)).toBe('99 %')
    expect(share(1000, 1000)).toBe('100 %')
    expect(share(0, 0)).toBe('–')
    expect(share(1, 3)).toBe('33 %')
  })
})

describe('times and words', () => {
  it('are in the zone of the workspace', () => {
    setForms({ timeZone: 'Europe/Dublin', numbers: 'point', dates: 'dayFirst', firstDay: 'monday' })
    expect(clock('2026-07-01T12:00:00Z')).toBe('13:00')
    expect(clock('2026-11-27T00:30:00Z')).toBe('00:30')
  })

  it('read as a person says them', () => {
    expect(every(1)).toBe('every minute')
    expect(every(5)).toBe('every 5 minutes')
    expect(every(60)).toBe('every hour')
    expect(every(120)).toBe('every 2 hours')
    expect(milliseconds(1250)).toBe('1.3 s')
    expect(milliseconds(125_000)).toBe('2 min 5 s')
    expect(plural(1, 'record')).toBe('1 record')
    expect(plural(1200, 'quantity', 'quantities')).toBe('1,200 quantities')
    expect(sentence('no price')).toBe('No price')
  })
})

describe('instants', () => {
  it('are asked for by the clock of the workspace, on both sides of a change of the clocks', () => {
    setForms({ timeZone: 'Europe/Dublin', numbers: 'point', dates: 'dayFirst', firstDay: 'monday' })
    for (const instant of ['2026-07-01T10:30:00.000Z', '2026-12-01T10:30:00.000Z', '2026-10-25T04:00:00.000Z', '2026-03-29T02:00:00.000Z'])
      expect(instantOf(shownOf(instant))).toBe(instant)
    expect(instantOf('2026-07-01T11:30')).toBe('2026-07-01T10:30:00.000Z')
  })

  it('have an age in the largest unit that fits', () => {
    const now = Date.parse('2026-11-28T12:00:00Z')
    expect(age('2026-11-28T11:59:40Z', now)).toBe('just now')
    expect(age('2026-11-28T11:58:00Z', now)).toBe('2 minutes')
    expect(age('2026-11-26T11:00:00Z', now)).toBe('2 days')
    expect(age(null, now)).toBe('')
  })
})

describe('documents', () => {
  it('are the same whatever is left out, empty, or in another order', () => {
    expect(same({ a: 1, b: null, c: [] }, { a: 1 })).toBe(true)
    expect(same({ a: { x: '1', y: '2' } }, { a: { y: '2', x: '1' } })).toBe(true)
    expect(same({ a: [1, 2] }, { a: [2, 1] })).toBe(false)
    expect(same({ a: false }, {})).toBe(false)
    expect(same({ a: [null] }, { a: [] })).toBe(false)
  })
})

describe('days and weeks', () => {
  const inDublin = (firstDay: Forms['firstDay']) => setForms({ timeZone: 'Europe/Dublin', numbers: 'point', dates: 'dayFirst', firstDay })

  it.each([
    ['monday', '2026-10-18T23:00:00.000Z', '2026-10-11T23:00:00.000Z'],
    ['saturday', '2026-10-16T23:00:00.000Z', '2026-10-09T23:00:00.000Z'],
    ['sunday', '2026-10-17T23:00:00.000Z', '2026-10-10T23:00:00.000Z'],
  ] as const)('begin on %s', (firstDay, week, before) => {
    inDublin(firstDay)
    const wednesday = '2026-10-21T09:00:00Z'
    expect(startOfWeek(wednesday)).toBe(week)
    expect(startOfWeek(startOfWeek(wednesday), -1)).toBe(before)
  })

  it('are as long as the clocks have them', () => {
    inDublin('monday')
    const changed = '2026-10-25T12:00:00Z'
    expect(startOfDay(changed)).toBe('2026-10-24T23:00:00.000Z')
    expect(startOfDay(changed, 1)).toBe('2026-10-26T00:00:00.000Z')
    expect(startOfWeek(changed)).toBe('2026-10-18T23:00:00.000Z')
    expect(startOfWeek(changed, 1)).toBe('2026-10-26T00:00:00.000Z')
  })
})

describe('the forms of numbers and dates', () => {
  const as = (numbers: Forms['numbers'], dates: Forms['dates'] = 'dayFirst') =>
    setForms({ timeZone: 'UTC', numbers, dates, firstDay: 'monday' })
  afterEach(() => as('point'))

  it.each([
    ['point', '1,234.50', '12,345', '+1.5 %'],
    ['comma', '1.234,50', '12.345', '+1,5 %'],
    ['spaceComma', '1\u202f234,50', '12\u202f345', '+1,5 %'],
    ['apostrophePoint', '1’234.50', '12’345', '+1.5 %'],
  ] as const)('%s', (form, amount, many, moved) => {
    as(form)
    // Which of the two apostrophes it is depends on the locale data at hand.
    const written = [value('1234.5', 'money'), count(12345), move(1.5, '%')].map((text) => text.replace("'", '’'))
    expect(written).toEqual([amount, many, moved])
    expect(value('1234.5'), 'text stays as it is').toBe('1234.5')
  })

  it.each([
    ['dayFirst', '9 November', 'Mon, 9 November 2026, 08:05, UTC', '9 Nov, 08:05'],
    ['monthFirst', 'November 9', 'Mon, November 9, 2026, 08:05, UTC', 'Nov 9, 08:05'],
    ['dots', '09.11.', 'Mon, 09.11.2026, 08:05, UTC', '09.11., 08:05'],
    ['slashes', '09/11', 'Mon, 09/11/2026, 08:05, UTC', '09/11, 08:05'],
    ['yearFirst', '2026-11-09', 'Mon, 2026-11-09, 08:05, UTC', '2026-11-09, 08:05'],
  ] as const)('%s', (form, short, full, withClock) => {
    as('point', form)
    const instant = '2026-11-09T08:05:00Z'
    expect([day(instant), at(instant), dayAndClock(instant)]).toEqual([short, full, withClock])
  })
})

import { describe, expect, it } from 'vitest'
import { filterOf } from '../src/features/mismatches/mismatch'
import { harmsNow, harmWords } from '../src/shared/harms'

const since = '2026-11-24T12:00:00Z'
const view = (harm: Parameters<typeof harmWords>[0]['harm'], records: number, rest = {}) => ({
  harm,
  records,
  pieces: null,
  worth: [],
  since,
  systems: [],
  ...rest,
})

describe('what does harm now', () => {
  it('is said in words and money', () => {
    expect(harmWords(view('oversold', 27, { pieces: 54 }))).toBe('27 items can be sold more often than they are there, by 54 pieces')
    expect(harmWords(view('oversold', 1))).toBe('1 item can be sold more often than it is there')
    expect(harmWords(view('orderStuck', 2, { worth: [{ currency: 'EUR', sum: 1390.7 }] }))).toBe('2 orders stand still, worth 1,390.70 EUR')
    expect(harmWords(view('orderStuck', 1))).toBe('1 order stands still')
    expect(harmWords(view('wrongPrice', 1, { worth: [{ currency: 'EUR', sum: 9.95 }] }))).toBe(
      '1 price is not as it should be, off by 9.95 EUR',
    )
    expect(harmWords(view('silent', 2))).toBe('2 systems do not answer')
  })

  it('tells the money of each currency apart', () => {
    const worth = [
      { currency: 'EUR', sum: 10 },
      { currency: 'CHF', sum: 5 },
    ]
    expect(harmWords(view('wrongPrice', 3, { worth }))).toBe('3 prices are not as they should be, off by 10.00 EUR and 5.00 CHF')
  })

  it('does not count what only waits', () => {
    expect([...harmsNow]).not.toContain('untidy')
    expect([...harmsNow]).toContain('stopped')
  })
})

describe('the filter of the desk', () => {
  it('is what the address says', () => {
    expect(filterOf({ cause: 'pair.likely', show: 'putOff', store: 'till', by: 'nobody', on: 'Tax: S9' })).toEqual({
      Cause: 'pair.likely',
      State: 'putOff',
      System: 'till',
      Owner: 'nobody',
      Subject: 'Tax: S9',
      Harm: undefined,
      Kind: undefined,
      Lane: undefined,
      Search: undefined,
      From: undefined,
    })
  })
})

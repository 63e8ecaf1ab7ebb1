import { describe, expect, it } from 'vitest'
import { zonesOf, zonesText } from '../src/features/lanes/order/zones'

describe('shipping zones as text', () => {
  it('are pasted from a spreadsheet', () => {
    expect(zonesOf('IE\t\tIS ZZ\nDE\t10 20\t')).toEqual([
      { country: 'IE', prefixes: [], except: ['IS', 'ZZ'] },
      { country: 'DE', prefixes: ['10', '20'], except: [] },
    ])
  })

  it('are typed with semicolons, in small letters, with blank lines between', () => {
    expect(zonesOf('ie;lm1, lm2;is\n\n  \nfr')).toEqual([
      { country: 'IE', prefixes: ['lm1', 'lm2'], except: ['is'] },
      { country: 'FR', prefixes: [], except: [] },
    ])
  })

  it('come back as they were', () => {
    for (const text of ['IE', 'IE\tLM1 LM2', 'IE\t\tIS', 'IE\tLM\tIS\nDE']) expect(zonesText(zonesOf(text))).toBe(text)
    expect(zonesOf('')).toEqual([])
    expect(zonesText([])).toBe('')
  })
})

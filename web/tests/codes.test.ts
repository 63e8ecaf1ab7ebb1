import { describe, expect, it } from 'vitest'
import { codesOf, codesText } from '../src/features/lanes/order/codes'
import { afterActs, afterButtons, afterChoices } from '../src/shared/after'

describe('codes pasted from a spreadsheet', () => {
  it('are two columns apart by a tab, a semicolon or an equals sign', () => {
    expect(codesOf('Moor Post\tmoor\nFell Freight; fell\nown van = van')).toEqual({
      'Moor Post': 'moor',
      'Fell Freight': 'fell',
      'own van': 'van',
    })
  })

  it('leave out lines with one column, and keep the last of two for one code', () => {
    expect(codesOf('post\n\n\tnobody\npost\tMP\npost\tMX')).toEqual({ post: 'MX' })
  })

  it('are written as they are read', () => {
    const codes = { standard: 'MP', 'express, tomorrow': 'MX' }
    expect(codesOf(codesText(codes))).toEqual(codes)
    expect(codesText({})).toBe('')
  })
})

describe('what becomes of a document', () => {
  it('has words for every choice of every part', () => {
    for (const [part, label, choices] of afterChoices) {
      expect(label, part).not.toBe('')
      expect(choices[0], part).toBe('hold')
      for (const choice of choices) {
        expect(afterActs[choice], choice).toBeTruthy()
        expect(afterButtons[choice], choice).toBeTruthy()
      }
    }
  })

  it('is told apart for payments, which are never changed, and for cancelled orders, which are never posted anew', () => {
    const of = (part: string) => afterChoices.find(([p]) => p === part)?.[2] ?? []
    expect(of('payment')).not.toContain('change')
    expect(of('cancelled')).not.toContain('replace')
  })
})

import { describe, expect, it } from 'vitest'
import { keysOf } from '../src/app/keys'
import { remarkWords, stages, views, viewWords } from '../src/features/orders/stages'
import { isNoStep, readView } from '../src/shared/listState'

describe('where orders stand', () => {
  it('has a word and a tone for every stage', () => {
    for (const [stage, [word, tone]] of Object.entries(stages)) {
      expect(word, stage).not.toBe('')
      expect(['clay', 'ochre', 'harm', 'glaze', 'plain']).toContain(tone)
    }
  })

  it('has a word for every view of the list, the stages first', () => {
    expect(views.slice(0, 7)).toEqual(Object.keys(stages))
    for (const view of views) expect(viewWords[view], view).toBeTruthy()
    expect(new Set(views).size).toBe(views.length)
  })

  it('says every remark of the computation in a sentence', () => {
    for (const remark of ['placeholderAddress', 'lineOmitted', 'difference', 'taxDiffers']) {
      expect(remarkWords[remark]).toMatch(/^[A-Z].*\.$/)
    }
  })
})

describe('the list of orders in the address', () => {
  it('keeps what says something about the list, and nothing else', () => {
    expect(readView('/orders')({ show: 'held', cause: 'totals', least: 10, most: 20, colour: 'red' })).toEqual({
      show: 'held',
      cause: 'totals',
      least: '10',
      most: '20',
    })
  })

  it('takes a filter for a step, and another letter of a search for none', () => {
    expect(isNoStep({}, { most: '20' })).toBe(false)
    expect(isNoStep({ search: 'W3' }, { search: 'W30' })).toBe(true)
    expect(isNoStep({ most: '20' }, { most: undefined })).toBe(false)
  })

  it('has the keys of a list', () => {
    expect(keysOf('/orders').name).toBe('this list')
    expect(keysOf('/orders').own.map(([key]) => key)).toContain('/')
    expect(keysOf('/nowhere').own).toEqual([])
    expect(keysOf('/orders').everywhere).toContainEqual(['g o', 'go to Orders'])
  })
})

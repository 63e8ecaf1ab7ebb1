import { describe, expect, it } from 'vitest'
import { accept, mappingOf, type Suggestion, sourceWords, withCrosswalk, withMapping } from '../src/features/lanes/map/map'
import { readView } from '../src/shared/listState'

const title = { target: 'title', source: { fields: ['name'] } }
const suggestion = (target: string, crosswalk: Suggestion['crosswalk'] = null): Suggestion => ({
  mapping: { target, source: { fields: [target] } },
  crosswalk,
  reason: '',
  agree: 1,
  compared: 1,
  certain: true,
})

describe('a field map while it is edited', () => {
  it('has one mapping a field, each in its place', () => {
    const two = withMapping(withMapping({}, 'title', title), 'sku', { target: 'sku', source: { fields: ['sku'] } })
    const changed = withMapping(two, 'title', { ...title, source: { fields: ['long'] } })
    expect(changed.fields?.map((f) => f.target)).toEqual(['title', 'sku'])
    expect(mappingOf(changed, 'title')?.source?.fields).toEqual(['long'])
    expect(withMapping(changed, 'title', null).fields?.map((f) => f.target)).toEqual(['sku'])
    expect(mappingOf(null, 'title')).toBeUndefined()
  })

  it('takes suggestions over, and leaves a crosswalk that is there as it is', () => {
    const entries = [{ from: 'S', to: 'A' }]
    const map = withCrosswalk({}, { name: 'tax', entries })
    const taken = accept(map, [suggestion('tax', { name: 'tax', entries: [] }), suggestion('kind', { name: 'kind', entries: [] })])
    expect(taken.fields?.map((f) => f.target)).toEqual(['tax', 'kind'])
    expect(taken.crosswalks).toEqual([
      { name: 'tax', entries },
      { name: 'kind', entries: [] },
    ])
    expect(withCrosswalk(taken, { name: 'tax', entries: [] }).crosswalks?.[0]?.entries).toEqual([])
  })

  it('says where a value comes from', () => {
    const field = (name: string, label: string) => ({ name, label }) as never
    const choices = {
      source: [field('name', 'Name')],
      levels: [field('onHand', 'On hand')],
      target: [{ field: field('t', 'Title') }],
    } as never
    expect(sourceWords(title, choices)).toBe('Name')
    expect(sourceWords({ target: 'x', source: { constant: 'A' } }, choices)).toBe('“A”')
    expect(sourceWords({ target: 'x', source: { fields: ['onHand'], record: 'stockLevels' } }, choices)).toBe('On hand of its stock levels')
    expect(sourceWords({ target: 'x', source: { fields: [] } }, choices)).toBe('nothing yet')
  })
})

describe('the state of a list in its address', () => {
  it('is what lists know, as text', () => {
    expect(readView('/runs/$run')({ show: 'held', row: 7, other: 'x', search: undefined })).toEqual({ show: 'held', row: '7' })
  })
})

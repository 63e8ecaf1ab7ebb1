import { describe, expect, it } from 'vitest'
import {
  asText,
  blank,
  type Description,
  fromText,
  graphOf,
  isCalled,
  shortOf,
  withResource,
} from '../src/features/systems/describe/description'

const items: Description['resources'][number] = {
  kind: 'item',
  label: 'wares',
  key: 'id',
  list: { path: 'wares', records: '', each: null, method: 'GET', size: 50, totalPath: '' },
  lookup: { path: 'wares/{key}', records: '' },
  fields: [{ name: 'price', path: 'cents', type: 'money', role: 'price', factor: 0.01, required: false, unit: null }],
  children: [],
}

const shop: Description = { ...blank, name: 'Tide Market', mark: 'TM', address: 'https://tide.example/', resources: [items] }

describe('a description', () => {
  it('says as text what it says as a form, and nothing that goes without saying', () => {
    const text = JSON.parse(asText(shop))
    expect(text.resources[0].list).toEqual({ path: 'wares', records: '', size: 50 })
    expect(text.resources[0].lookup).toEqual({ path: 'wares/{key}', records: '' })
    expect(text.resources[0].fields).toEqual([{ name: 'price', path: 'cents', type: 'money', role: 'price', factor: 0.01 }])
    expect(text.resources[0]).not.toHaveProperty('children')
    expect(asText(fromText(asText(shop)) as Description)).toBe(asText(shop))
  })

  it('keeps what the form has no field for, and bodies as they are', () => {
    const webhook = { signatureHeader: 'Sign', timeHeader: 'At', kind: 'order', record: 'id' }
    const body = { query: '{ wares }', variables: { first: 1, required: false } }
    const read = fromText(JSON.stringify({ ...shop, webhook, resources: [{ ...items, list: { path: 'g', method: 'POST', body } }] }))
    const text = JSON.parse(asText(read as Description))
    expect(text.webhook).toEqual(webhook)
    expect(text.resources[0].list.body).toEqual(body)
  })

  it('is told from a text that cannot be read, and from a system that is reached by files', () => {
    expect(typeof fromText('{ "name": ')).toBe('string')
    const brief = fromText('{ "format": "narbit/rest-system/1", "resources": [] }') as Description
    expect(brief.limits?.requestsPerSecond, 'what it leaves out is as if it were not there').toBeUndefined()
    const till = fromText('{ "format": "narbit/file-system/1", "out": "out", "resources": [] }') as Description
    expect(isCalled(till)).toBe(false)
    expect(JSON.parse(asText(till))).toEqual({ format: 'narbit/file-system/1', out: 'out', resources: [] })
  })

  it('takes a list that was read again in place of the one of its kind', () => {
    const again = withResource(shop, { ...items, label: 'articles' })
    expect(again.resources.map((r) => r.label)).toEqual(['articles'])
    const more = withResource(shop, { ...items, kind: 'stockLevel', label: 'levels' })
    expect(more.resources.map((r) => r.label)).toEqual(['wares', 'levels'])
  })
})

describe('what a name is shortened to', () => {
  it.each([
    ['Harbour Ledger', 'HL', 'harbour-ledger'],
    ['Tideway', 'TI', 'tideway'],
    ['Café Moor & Söhne', 'CM', 'cafe-moor-sohne'],
    ['', '', ''],
  ])('%s', (name, mark, id) => {
    expect(shortOf(name)).toEqual({ mark, id })
  })
})

describe('a body', () => {
  it('is a GraphQL query where it has one', () => {
    expect(graphOf({ query: '{ wares }' })).toBe('{ wares }')
    expect(graphOf({ page: 1 })).toBeNull()
    expect(graphOf(null)).toBeNull()
  })
})

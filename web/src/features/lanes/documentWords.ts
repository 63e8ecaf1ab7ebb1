import { sentence } from '../../shared/format'
import { guardNames } from '../../shared/guardNames'

/** What the parts of a rule, map or guard are called on screen. */
const names: Record<string, string> = {
  bands: 'band',
  multiply: 'factor',
  add: 'added amount',
  from: 'from',
  to: 'to below',
  priceList: 'price list',
  fallbackLists: 'list to fall back on',
  targetList: 'price list there',
  compareAtList: 'struck through beside it',
  minMargin: 'least margin, %',
  currencyRate: 'currency rate',
  allowHigherSale: 'sale even when higher',
  rounding: 'halves',
  ending: 'ending',
  endings: 'one of the endings',
  direction: 'direction',
  tax: 'tax',
  source: 'from',
  target: 'there',
  groups: 'customer group',
  holdBack: 'hold back, pcs',
  zeroBelow: 'zero below, pcs',
  cap: 'at most, pcs',
  share: 'share, %',
  locations: 'location',
  fields: 'field',
  steps: 'step',
  with: 'with',
  do: 'does',
  owner: 'which side counts',
  crosswalks: 'crosswalk',
  entries: 'code',
  unlisted: 'a code without an entry',
  publish: 'publishing',
  filters: 'filter',
  guards: 'guard',
}

const spaced = (name: string) => name.replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`)

/** A place in a rule, map or guards as a person says it: “bands[0].multiply” is “Band 1: factor”. */
export function placeInWords(path: string) {
  const parts = path.split('.').map((part) => {
    const [, name = part, entry] = /^([^[]+)(?:\[(.+)\])?$/.exec(part) ?? []
    const word = names[name] ?? guardNames[name as keyof typeof guardNames] ?? spaced(name)
    if (entry === undefined) return word
    if (entry.startsWith('from ')) return `${word} ${entry}`
    return `${word} ${/^\d+$/.test(entry) ? Number(entry) + 1 : `“${entry}”`}`
  })
  return sentence(parts.join(': '))
}

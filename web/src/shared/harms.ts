import type { Schemas } from './api'
import { plural, worth as worthWords } from './format'

/** What a cause does, in words, and the colour that it has. */
export const harms: Record<Schemas['Harm'], [string, string]> = {
  oversold: ['oversold', 'harm'],
  wrongPrice: ['wrong price', 'harm'],
  orderStuck: ['order stuck', 'harm'],
  silent: ['silent', 'harm'],
  stopped: ['stopped', 'harm'],
  failed: ['not arrived', 'ochre'],
  doubtful: ['doubtful', 'ochre'],
  notComputed: ['not computed', 'ochre'],
  unpaired: ['unpaired', 'clay'],
  untidy: ['untidy', 'plain'],
  unfinished: ['begun', 'plain'],
}

export const harmWord = (harm: Schemas['Harm']) => harms[harm][0]

/** What costs money or goodwill while nobody looks. */
export const harmsNow = new Set<Schemas['Harm']>(['oversold', 'wrongPrice', 'orderStuck', 'silent', 'stopped'])

/** What does harm now, in words and money. */
export function harmWords({ harm, records: n, pieces, worth }: Schemas['HarmView']) {
  const money = worthWords(worth)
  const one = n === 1
  const by = pieces ? `, by ${plural(pieces, 'piece')}` : ''
  if (harm === 'oversold') return `${plural(n, 'item')} can be sold more often than ${one ? 'it is' : 'they are'} there${by}`
  if (harm === 'wrongPrice')
    return `${plural(n, 'price')} ${one ? 'is' : 'are'} not as ${one ? 'it' : 'they'} should be${money && `, off by ${money}`}`
  if (harm === 'orderStuck') return `${plural(n, 'order')} ${one ? 'stands' : 'stand'} still${money && `, worth ${money}`}`
  if (harm === 'silent') return `${plural(n, 'system')} ${one ? 'does' : 'do'} not answer`
  return `${plural(n, 'time')} something was stopped, missed or left out`
}

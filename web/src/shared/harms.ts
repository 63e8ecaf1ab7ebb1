import type { Schemas } from './api'

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

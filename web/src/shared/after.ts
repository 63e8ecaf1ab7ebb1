import type { Schemas } from './api'

type After = Schemas['AfterPosting']

/** What becomes of a document, as the end of a sentence that begins with it. */
export const afterActs: Record<After, string> = {
  hold: 'waits for a person',
  change: 'is changed',
  replace: 'is taken out and posted anew',
  apart: 'stays, and the payment is registered apart',
  takeOut: 'is taken out',
  leave: 'stays as it is',
}

/** The same as a person tells it. */
export const afterButtons: Record<After, string> = {
  hold: 'Let it wait',
  change: 'Change the document',
  replace: 'Take it out and post anew',
  apart: 'Register the payment apart',
  takeOut: 'Take the document out',
  leave: 'Leave the document',
}

/** What may be chosen for each part of an order that changes after it was posted; the server checks the same. */
export const afterChoices: [part: 'goods' | 'address' | 'payment' | 'cancelled', label: string, choices: After[]][] = [
  ['goods', 'lines or amounts', ['hold', 'change', 'replace', 'leave']],
  ['address', 'the address', ['hold', 'change', 'replace', 'leave']],
  ['payment', 'paid later', ['hold', 'apart', 'replace', 'leave']],
  ['cancelled', 'cancelled', ['hold', 'takeOut', 'leave']],
]

/** A part that changed, in words. */
export const partWords: Record<Schemas['OrderPart'], string> = {
  goods: 'lines or amounts',
  address: 'the address',
  payment: 'the payment',
  cancelled: 'it was cancelled',
}

import type { WriteRow } from '../../shared/api'
import { guardNames } from '../../shared/guardNames'

type Word = [text: string, tone: string]

const states: Record<WriteRow['state'], Word> = {
  planned: ['', 'plain'],
  held: ['held', 'ochre'],
  skipped: ['not chosen', 'plain'],
  unknown: ['no answer yet', 'ochre'],
  sent: ['sent', 'ochre'],
  confirmed: ['confirmed', 'glaze'],
  overtaken: ['changed there', 'clay'],
  failed: ['failed', 'harm'],
}

const kinds: Partial<Record<WriteRow['kind'], Word>> = {
  new: ['new', 'clay'],
  withdrawn: ['withdrawn', 'harm'],
  back: ['back to the source', 'ochre'],
}

/** What is to be said of a write beyond its values; no word where it is simply planned. */
export function stateWord(w: WriteRow): Word {
  if (w.takenBackIn !== null) return ['taken back', 'plain']
  return w.state === 'planned' && w.guards ? ['guarded', 'harm'] : states[w.state]
}

/** What a write does, where it is no plain change. */
export const kindWord = (w: WriteRow): Word | undefined => kinds[w.kind]

/** The guards that point at a write, as a person says them. */
export const guardWords = (guards: string) =>
  guards
    .split(' ')
    .map((g) => guardNames[g as keyof typeof guardNames] ?? g)
    .join(', ')

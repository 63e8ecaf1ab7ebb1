import type { Schemas } from '../../shared/api'

export type Proof = Schemas['LaneProofView']
export type Line = Schemas['ProofLineView']
export type Finding = Line['finding']

/** What a compare can find, worst first: its word, its colour, and how many a proof has of it. */
export const findings: { finding: Finding; word: string; tone: string; of: (p: Proof) => number }[] = [
  { finding: 'mistaken', word: 'believed wrongly', tone: 'harm', of: (p) => p.mistaken },
  { finding: 'changedThere', word: 'changed there', tone: 'clay', of: (p) => p.changedThere },
  { finding: 'held', word: 'held', tone: 'ochre', of: (p) => p.held },
  { finding: 'toSend', word: 'to be sent', tone: 'ochre', of: (p) => p.toSend },
  { finding: 'missing', word: 'not there', tone: 'plain', of: (p) => p.missing },
  { finding: 'notComputed', word: 'not computed', tone: 'plain', of: (p) => p.notComputed },
]

export const findingOf = (finding: Finding) => findings.find((f) => f.finding === finding) ?? findings[0]

/** All proofs that could be compared, added up. */
export function sum(proofs: Proof[]) {
  const all = proofs.filter((p) => p.why === null)
  const add = (of: (p: Proof) => number) => all.reduce((total, p) => total + of(p), 0)
  return {
    records: add((p) => p.records),
    inStep: add((p) => p.recordsInStep),
    fields: add((p) => p.fields),
    fieldsInStep: add((p) => p.fieldsInStep),
  }
}

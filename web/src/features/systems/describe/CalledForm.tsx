import { TextInput } from '@mantine/core'
import { useState } from 'react'
import type { Schemas } from '../../../shared/api'
import { evidenceIn } from './actions'
import { type Description, shortOf, withResource } from './description'
import type { KeptDescription } from './keptDescription'
import { ListSheet } from './ListSheet'
import { type Secret, SignIn } from './SignIn'
import { Source } from './Source'

/** A system that is called: where it is, what it says of itself, and its lists. */
export function CalledForm(props: { kept: KeptDescription<Description>; secret: Secret; setSecret: (secret: Secret) => void }) {
  const { kept, secret } = props
  const { description, set } = kept
  const [remarks, setRemarks] = useState<Record<string, string[]>>({})

  const takeList = (proposal: Schemas['ResourceProposal']) => {
    kept.learn(evidenceIn(proposal))
    setRemarks((r) => ({ ...r, [proposal.resource.kind]: proposal.remarks }))
    set((d) => ({ ...withResource(d, proposal.resource), replies: proposal.replies }))
  }
  const takeContract = (proposal: Schemas['ContractProposal']) => {
    const first = proposal.resources.filter(
      (r, i) => proposal.resources.findIndex((other) => other.resource.kind === r.resource.kind) === i,
    )
    kept.learn(Object.assign({}, ...first.map(evidenceIn)))
    setRemarks(Object.fromEntries(first.map((r) => [r.resource.kind, r.remarks])))
    const name = description.name || (proposal.name ?? '')
    if (!kept.id) kept.setId(shortOf(name).id)
    set((d) => ({
      ...d,
      name,
      mark: d.mark || shortOf(name).mark,
      address: d.address || (proposal.address ?? ''),
      authentication: proposal.authentication,
      test: proposal.testPath ? { path: proposal.testPath } : null,
      resources: first.map((r) => r.resource),
    }))
  }
  return (
    <>
      <Where description={description} secret={secret} setSecret={props.setSecret} set={set} />
      <Source description={description} secret={secret} takeList={takeList} takeContract={takeContract} />
      {description.resources.map((resource, i) => (
        <ListSheet
          // biome-ignore lint/suspicious/noArrayIndexKey: a list is told by its place while its kind is being chosen
          key={i}
          description={description}
          secret={secret}
          resource={resource}
          evidence={kept.evidence}
          remarks={remarks[resource.kind]}
          learn={kept.learn}
          set={(to) => kept.replace(i, to)}
          remove={() => kept.replace(i)}
        />
      ))}
    </>
  )
}

function Where(props: {
  description: Description
  secret: Secret
  setSecret: (secret: Secret) => void
  set: (change: (description: Description) => Description) => void
}) {
  const { description, set } = props
  return (
    <section className="sheet pad stack" aria-label="Where it is">
      <h2>Where it is</h2>
      <div className="field-grid">
        <label htmlFor="system-address">Address</label>
        <TextInput
          id="system-address"
          placeholder="https://shop.example/api/"
          value={description.address}
          onChange={(e) => {
            const address = e.currentTarget.value
            set((d) => ({ ...d, address }))
          }}
        />
        <SignIn
          address={description.address}
          way={description.authentication}
          secret={props.secret}
          setSecret={props.setSecret}
          set={(authentication) => set((d) => ({ ...d, authentication }))}
        />
      </div>
    </section>
  )
}

import { Checkbox, SegmentedControl, TextInput } from '@mantine/core'
import type { Schemas } from '../../../shared/api'
import { type Policy, type PolicyOf, Step, type StepOf } from './Step'

/** What the hub's document is called and carries. */
export function DocumentStep({ of, policy, change }: { of: StepOf } & PolicyOf) {
  const { rule, set, faultAt } = of
  return (
    <Step name="Document">
      <TextInput
        aria-label="Its number"
        w={150}
        error={faultAt('number')}
        value={rule.number ?? '{number}'}
        onChange={(e) => set({ number: e.currentTarget.value })}
      />
      <TextInput
        aria-label="Its kind"
        w={120}
        value={rule.document ?? 'order'}
        onChange={(e) => set({ document: e.currentTarget.value })}
      />
      <span className="dim small">
        {'{number}'} and {'{id}'} are the store’s
      </span>
      <Documents documents={rule.documents ?? []} set={(documents) => set({ documents })} />
      <SegmentedControl
        aria-label="Lines are called"
        size="xs"
        data={[
          { value: 'asSold', label: 'lines as they were sold' },
          { value: 'asHere', label: 'as the hub calls its items' },
        ]}
        value={policy.titles ?? 'asSold'}
        onChange={(titles) => change({ titles: titles as Policy['titles'] })}
      />
      <SegmentedControl
        aria-label="Delivery costs"
        size="xs"
        data={[
          { value: 'copied', label: 'delivery at its cost' },
          { value: 'zero', label: 'delivery free, sent from another store' },
        ]}
        value={policy.delivery ?? 'copied'}
        onChange={(delivery) => change({ delivery: delivery as Policy['delivery'] })}
      />
      <Checkbox
        label="what the buyer wrote, and what the hub answers"
        checked={policy.comments ?? true}
        onChange={(e) => change({ comments: e.currentTarget.checked })}
      />
      <Checkbox
        label="an address that the customer lacks is added to it"
        checked={policy.addsAddresses ?? true}
        onChange={(e) => change({ addsAddresses: e.currentTarget.checked })}
      />
    </Step>
  )
}

/** Which kind of document an order becomes, by how it was paid and by its state; the first that fits counts. */
function Documents({ documents, set }: { documents: Schemas['DocumentChoice'][]; set: (d: Schemas['DocumentChoice'][]) => void }) {
  const amend = (i: number, change: Partial<Schemas['DocumentChoice']>) => set(documents.map((d, j) => (i === j ? { ...d, ...change } : d)))
  return (
    <div className="stack">
      {documents.map((d, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: they have no other name than their place
        <div key={i} className="row wrap">
          <span>but paid by</span>
          {(['method', 'state', 'as'] as const).map((part) => (
            <span key={part} className="row">
              {part === 'state' && <span>in state</span>}
              {part === 'as' && <span>it is a</span>}
              <TextInput
                aria-label={`Document ${i + 1}: ${part}`}
                placeholder={part === 'as' ? 'kind' : 'any'}
                w={110}
                value={d[part] ?? ''}
                onChange={(e) => amend(i, { [part]: e.currentTarget.value || (part === 'as' ? '' : null) })}
              />
            </span>
          ))}
          <button type="button" className="act" onClick={() => set(documents.filter((_, j) => j !== i))}>
            Take it out
          </button>
        </div>
      ))}
      <div>
        <button type="button" className="act" onClick={() => set([...documents, { method: null, state: null, as: '' }])}>
          Another kind for some
        </button>
      </div>
    </div>
  )
}

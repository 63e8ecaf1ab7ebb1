import { Checkbox, TextInput } from '@mantine/core'
import { CodeTable, PastedCodes, typedCode } from './CodeTable'
import { type Policy, type PolicyOf, Step } from './Step'

/** What the store hears once its order is at the hub. */
export function Back({ policy, change }: PolicyOf) {
  const back = policy.back ?? {}
  const setBack = (some: Partial<Policy['back']>) => change({ back: { ...back, ...some } as Policy['back'] })
  return (
    <Step name="Back to the store" wide>
      <div className="row">
        <span>once it has arrived, its state becomes</span>
        <TextInput
          aria-label="State once it has arrived"
          placeholder="it stays"
          w={140}
          value={back.acknowledged ?? ''}
          onChange={(e) => setBack({ acknowledged: e.currentTarget.value || null })}
        />
      </div>
      <CodeTable
        label="States of the hub"
        met={['open', 'partShipped', 'shipped', 'cancelled'].map((word) => ({ word }))}
        codes={back.states ?? {}}
        set={(states) => setBack({ states })}
        choose={typedCode('State there', 'it stays')}
      />
      <Checkbox
        label="tell the store of shipments"
        checked={back.shipments ?? true}
        onChange={(e) => setBack({ shipments: e.currentTarget.checked })}
      />
      <PastedCodes
        label="Carriers: what the hub calls them, what the store calls them"
        codes={back.carriers ?? {}}
        set={(carriers) => setBack({ carriers })}
      />
      <Checkbox
        label="the store takes over quantities and addresses that the hub changes"
        checked={back.changes ?? false}
        onChange={(e) => setBack({ changes: e.currentTarget.checked })}
      />
    </Step>
  )
}

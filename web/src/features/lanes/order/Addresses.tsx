import { SegmentedControl, Textarea, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { Schemas } from '../../../shared/api'
import { type Rule, Step, type StepOf } from './Step'
import { zonesOf, zonesText } from './zones'

/** Where orders are sent to, and what becomes of those without an address. */
export function Addresses({ of }: { of: StepOf }) {
  const { rule, set, faultAt } = of
  return (
    <Step name="Shipping zones" wide>
      <Zones zones={rule.zones ?? []} set={(zones) => set({ zones })} wrong={faultAt('zones')} />
      <Choice label="outside them" value={rule.outsideZone ?? 'hold'} set={(outsideZone) => set({ outsideZone })} />
      <Choice label="without an address" value={rule.noAddress ?? 'hold'} set={(noAddress) => set({ noAddress })} />
      {(rule.outsideZone === 'placeholder' || rule.noAddress === 'placeholder') && (
        <div className="row wrap">
          {(['name', 'street', 'postcode', 'city', 'country'] as const).map((part) => (
            <TextInput
              key={part}
              aria-label={`Address in its place: ${part}`}
              placeholder={part}
              w={part === 'country' ? 80 : 150}
              error={faultAt('placeholder')}
              value={rule.placeholder?.[part] ?? ''}
              onChange={(e) => set({ placeholder: { ...rule.placeholder, [part]: e.currentTarget.value || null } as Rule['placeholder'] })}
            />
          ))}
        </div>
      )}
    </Step>
  )
}

function Choice(props: { label: string; value: Schemas['AddressChoice']; set: (v: Schemas['AddressChoice']) => void }) {
  return (
    <div className="row">
      <span style={{ width: 130 }}>{props.label}</span>
      <SegmentedControl
        aria-label={props.label}
        size="xs"
        data={[
          { value: 'hold', label: 'hold' },
          { value: 'placeholder', label: 'use this address' },
          { value: 'take', label: 'take it as it is' },
        ]}
        value={props.value}
        onChange={(v) => props.set(v as Schemas['AddressChoice'])}
      />
    </div>
  )
}

function Zones({ zones, set, wrong }: { zones: Schemas['ShippingZone'][]; set: (z: Schemas['ShippingZone'][]) => void; wrong: boolean }) {
  // What is typed stays as it is typed; only what is meant by it goes into the rule.
  const [typed, setTyped] = useState<string | null>(null)
  return (
    <Textarea
      aria-label="Shipping zones"
      description="A line for each: country; what postcodes begin with; what is left out. Columns of a spreadsheet can be pasted."
      autosize
      minRows={2}
      error={wrong && 'A country is two letters.'}
      placeholder="everywhere"
      value={typed ?? zonesText(zones)}
      onChange={(e) => {
        setTyped(e.currentTarget.value)
        set(zonesOf(e.currentTarget.value))
      }}
      onBlur={() => setTyped(null)}
    />
  )
}

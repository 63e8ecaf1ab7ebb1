import { Button, Select, TextInput } from '@mantine/core'
import type { Schemas } from '../../../shared/api'
import { shown } from '../../../shared/shown'
import { type FieldMapping, mapOf, useDraft } from '../draft'
import { type Field, type MapChoices, type MapStepOf, type StepKind, withCrosswalk } from './map'

type Parameter = NonNullable<StepKind['parameters']>[number]

/** The steps between source and target, each with the sample's value after it. */
export function Chain(props: {
  mapping: FieldMapping
  field: Field
  choices: MapChoices
  look: Schemas['FieldLook'] | undefined
  set: (mapping: FieldMapping) => void
}) {
  const { mapping, choices, look } = props
  const { document, setMap } = useDraft()
  const steps = mapping.steps ?? []
  const set = (next: MapStepOf[]) => props.set({ ...mapping, steps: next })
  const swap = (i: number, j: number) =>
    set(steps.map((s, n) => (n === i ? (steps[j] as MapStepOf) : n === j ? (steps[i] as MapStepOf) : s)))
  const add = (name: string) => {
    if (name !== 'crosswalk') return set([...steps, { do: name }])
    // A step that translates needs a table; one by the field's name is begun.
    const table = props.field.label
    if (!(mapOf(document)?.crosswalks ?? []).some((c) => c.name === table)) setMap((m) => withCrosswalk(m, { name: table }))
    set([...steps, { do: name, with: { table } }])
  }
  const groups = [...new Set(choices.steps.map((s) => s.group))].map((group) => ({
    group,
    items: choices.steps.filter((s) => s.group === group).map((s) => ({ value: s.do, label: s.label })),
  }))
  return (
    <ol className="chain" aria-label="Chain">
      <li>
        <span className="dim">source</span>
        <Value value={look?.trace[0]?.after} />
      </li>
      {steps.map((step, i) => {
        const kind = choices.steps.find((k) => k.do === step.do)
        const after = look?.trace[i + 1]
        const failed = look?.failure && look.trace.length === i + 2
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: steps have no other name than their place
          <li key={i}>
            <div className="row" style={{ gap: 6, alignItems: 'flex-start' }}>
              <span className="row wrap grow" style={{ gap: 6 }}>
                <span className="strong small" title={kind ? `A missing value ${kind.missing}.` : undefined}>
                  {kind?.label ?? step.do}
                </span>
                {(kind?.parameters ?? []).map((p) => (
                  <Given
                    key={p.name}
                    n={i + 1}
                    parameter={p}
                    value={step.with?.[p.name]}
                    choices={choices}
                    set={(v) => {
                      const { [p.name]: _, ...rest } = step.with ?? {}
                      set(steps.map((s, n) => (n === i ? { ...s, with: v === '' ? rest : { ...rest, [p.name]: v } } : s)))
                    }}
                  />
                ))}
              </span>
              <Button size="compact-xs" aria-label={`Move step ${i + 1} up`} disabled={i === 0} onClick={() => swap(i, i - 1)}>
                ↑
              </Button>
              <Button
                size="compact-xs"
                aria-label={`Move step ${i + 1} down`}
                disabled={i === steps.length - 1}
                onClick={() => swap(i, i + 1)}
              >
                ↓
              </Button>
              <Button size="compact-xs" aria-label={`Remove step ${i + 1}`} onClick={() => set(steps.filter((_, n) => n !== i))}>
                ✕
              </Button>
            </div>
            {failed ? (
              <span className="minus small">{look.failure?.words}</span>
            ) : (
              <Value value={after?.after} same={after?.before === after?.after} />
            )}
          </li>
        )
      })}
      <li>
        <Select
          aria-label="Add a step"
          placeholder="Add a step"
          searchable
          size="xs"
          w={280}
          data={groups}
          value={null}
          onChange={(v) => v && add(v)}
        />
      </li>
    </ol>
  )
}

function Value({ value, same }: { value: string | null | undefined; same?: boolean }) {
  return (
    <span className={`chain-value mono${same ? ' dim' : ''}`} title={value ?? undefined}>
      {value === undefined ? '' : value === null ? 'nothing' : shown(value)}
    </span>
  )
}

function Given(props: { n: number; parameter: Parameter; value: string | undefined; choices: MapChoices; set: (value: string) => void }) {
  const { parameter: p, value, choices, set } = props
  const { document } = useDraft()
  const label = `Step ${props.n}: ${p.label}`
  const options =
    p.kind === 'choice'
      ? (p.choices ?? []).map((c) => ({ value: c, label: c }))
      : p.kind === 'field'
        ? choices.source.map((f) => ({ value: f.name, label: f.label }))
        : p.kind === 'crosswalk'
          ? (mapOf(document)?.crosswalks ?? []).map((c) => ({ value: c.name, label: c.name }))
          : null
  const hint = p.default ?? (p.kind === 'locale' ? 'de-DE' : p.kind === 'zone' ? 'Europe/Dublin' : undefined)
  return (
    <span className="row" style={{ gap: 4 }}>
      <span className="dim small">{p.label}</span>
      {options ? (
        <Select
          aria-label={label}
          size="xs"
          w={140}
          searchable={p.kind !== 'choice'}
          placeholder={hint}
          data={options}
          value={value ?? null}
          onChange={(v) => set(v ?? '')}
        />
      ) : (
        <TextInput
          aria-label={label}
          size="xs"
          w={p.kind === 'whole' || p.kind === 'number' ? 74 : p.kind === 'expression' ? 250 : 140}
          placeholder={hint}
          classNames={p.kind === 'pattern' || p.kind === 'expression' ? { input: 'mono' } : undefined}
          value={value ?? ''}
          onChange={(e) => set(e.currentTarget.value)}
        />
      )}
    </span>
  )
}

import { Button, MultiSelect, SegmentedControl, Select, TextInput } from '@mantine/core'
import type { ReactNode } from 'react'
import type { Schemas } from '../../../shared/api'
import { Differs } from '../../../shared/Differs'
import { plural } from '../../../shared/format'
import { Empty } from '../../../shared/states'
import { type FieldMapping, mapOf, useDraft } from '../draft'
import { Chain } from './Chain'
import { type Field, type MapChoices, mappingOf, type Suggestion, sourceRecords, sourceWords, withMapping } from './map'

type Source = NonNullable<FieldMapping['source']>

const typeNames: Record<Field['type'], string> = {
  text: 'text',
  html: 'HTML',
  integer: 'whole number',
  decimal: 'number',
  money: 'amount',
  percent: 'percentage',
  boolean: 'yes or no',
  instant: 'point in time',
  code: 'code',
  weight: 'weight',
  date: 'date',
  length: 'length',
  list: 'list',
  image: 'image address',
  reference: 'reference',
}

const owners = {
  source: 'here: what is changed there is written over',
  target: 'there: it is never sent',
  firstPublication: 'here until it is published, then there',
  nobody: 'nobody: a change moves to the other side',
}
const flows = { toTarget: 'to there only', toSource: 'back only', both: 'either way' }
const conflicts = { ask: 'ask a person', hereWins: 'here wins', thereWins: 'there wins', newestWins: 'the newest wins' }
const choicesOf = (words: Record<string, string>) => Object.entries(words).map(([value, label]) => ({ value, label }))

/** One field of the target: its source, its chain, whose it is; and five records before and after. */
export function MappingEditor(props: {
  target: MapChoices['target'][number]
  choices: MapChoices
  suggestion: Suggestion | undefined
  accept: (suggestion: Suggestion) => void
  look: Schemas['FieldLook'] | undefined
  samples: Schemas['FieldSample'][]
  faults: Schemas['RuleFault'][]
  /** What is to be said of texts that are cut. */
  cut: ReactNode
}) {
  const { target, choices, suggestion, look } = props
  const { field } = target
  const { document, setMap, lane } = useDraft()
  const mapping = mappingOf(mapOf(document), field.name)
  const set = (next: FieldMapping | null) => setMap((m) => withMapping(m, field.name, next))
  const facts = [
    typeNames[field.type],
    field.unit,
    field.required && 'required',
    field.maxLength && `at most ${plural(field.maxLength, 'character')}`,
    field.shared && 'sisters have it in common, so it comes from the first of their group',
  ].filter(Boolean)
  return (
    <section className="sheet side stack pad" aria-label={`Map of ${field.label}`}>
      <div className="row">
        <span className="strong" style={{ fontSize: 16 }}>
          {field.label}
        </span>
        <span className="dim small grow">{facts.join(', ')}</span>
        {mapping && (
          <Button size="compact-xs" onClick={() => set(null)}>
            Leave it out
          </Button>
        )}
      </div>
      {!mapping && suggestion && (
        <div className="note glaze">
          <span className="grow">
            <span className="strong">{sourceWords(suggestion.mapping, choices)}</span>
            {(suggestion.mapping.steps ?? []).map((s) => ` → ${choices.steps.find((k) => k.do === s.do)?.label ?? s.do}`).join('')}
            <br />
            <span className="small">{suggestion.reason}.</span>
          </span>
          <Button variant="filled" size="xs" onClick={() => props.accept(suggestion)}>
            Accept
          </Button>
        </div>
      )}
      {mapping ? (
        <>
          <SourceFields mapping={mapping} choices={choices} set={set} />
          <Chain mapping={mapping} field={field} choices={choices} look={look} set={set} />
          {props.faults.map((f) => (
            <div key={f.path + f.message} className="small minus" role="alert">
              ✕ {f.message}
            </div>
          ))}
          {props.cut}
          <div className="field-grid" style={{ gridTemplateColumns: '90px minmax(0, 1fr)', gap: '8px 12px' }}>
            <span>Owned</span>
            <Select
              aria-label="Owner"
              allowDeselect={false}
              data={choicesOf(owners)}
              value={mapping.owner ?? 'source'}
              onChange={(v) =>
                set({
                  ...mapping,
                  owner: v as FieldMapping['owner'],
                  flow: v === 'nobody' ? 'both' : v === 'target' ? 'toSource' : 'toTarget',
                })
              }
            />
            <span>Flows</span>
            <div className="row wrap">
              <SegmentedControl
                aria-label="Flow"
                value={mapping.flow ?? 'toTarget'}
                onChange={(v) => set({ ...mapping, flow: v as FieldMapping['flow'] })}
                data={choicesOf(flows)}
              />
              {mapping.owner === 'nobody' && (
                <>
                  <span className="dim">both changed:</span>
                  <Select
                    aria-label="When both changed"
                    w={150}
                    allowDeselect={false}
                    data={choicesOf(conflicts)}
                    value={mapping.conflict ?? 'ask'}
                    onChange={(v) => set({ ...mapping, conflict: v as FieldMapping['conflict'] })}
                  />
                </>
              )}
            </div>
          </div>
          <Samples samples={props.samples} compared={target.compared} there={lane.target.name} />
        </>
      ) : (
        <Empty title={suggestion ? 'Suggested, not mapped' : 'Nothing is mapped to it'}>
          {field.required && <span>{lane.target.name} requires it of a new listing.</span>}
          <div className="row">
            <Button onClick={() => set({ target: field.name, source: { fields: [choices.source[0]?.name as string] } })}>
              Map it by hand
            </Button>
            <Button onClick={() => set({ target: field.name, source: { constant: '' } })}>Give it a constant</Button>
          </div>
        </Empty>
      )}
    </section>
  )
}

function SourceFields({ mapping, choices, set }: { mapping: FieldMapping; choices: MapChoices; set: (mapping: FieldMapping) => void }) {
  const source: Source = mapping.source ?? {}
  const constant = source.constant !== null && source.constant !== undefined
  const record = source.record ?? 'own'
  const known = record === 'there' ? choices.target.map((t) => t.field) : record === 'stockLevels' ? choices.levels : choices.source
  return (
    <div className="row" style={{ alignItems: 'flex-start' }}>
      <Select
        aria-label="Taken from"
        w={190}
        allowDeselect={false}
        data={[...choicesOf(sourceRecords), { value: 'constant', label: 'a constant' }]}
        value={constant ? 'constant' : record}
        onChange={(v) =>
          set({
            ...mapping,
            source: v === 'constant' ? { constant: '' } : { fields: v === record ? source.fields : [], record: v as Source['record'] },
          })
        }
      />
      {constant ? (
        <TextInput
          aria-label="Constant"
          className="grow"
          value={source.constant ?? ''}
          onChange={(e) => set({ ...mapping, source: { constant: e.currentTarget.value } })}
        />
      ) : (
        <MultiSelect
          aria-label="Source fields"
          className="grow"
          searchable
          data={known.map((f) => ({ value: f.name, label: f.label }))}
          value={source.fields ?? []}
          onChange={(fields) => set({ ...mapping, source: { ...source, fields } })}
        />
      )}
    </div>
  )
}

function Samples({ samples, compared, there }: { samples: Schemas['FieldSample'][]; compared: string; there: string }) {
  if (samples.length === 0) return null
  return (
    <div>
      <table className="plain-table small samples" aria-label="Five records">
        <thead>
          <tr>
            <th>SKU</th>
            <th>source</th>
            <th>there now</th>
            <th>by this map</th>
          </tr>
        </thead>
        <tbody>
          {samples.map((s) => (
            <tr key={s.sourceKey}>
              <td className="mono">{s.reference}</td>
              <td title={s.source ?? ''}>
                <Differs text={s.source} beside={s.now} />
              </td>
              <td title={s.now ?? ''} className={s.now !== s.trial ? 'struck' : undefined}>
                <Differs text={s.now} beside={s.trial} old />
              </td>
              <td title={s.failure?.words ?? s.trial ?? ''} className={s.failure ? 'minus' : 'strong'}>
                {s.failure?.words ?? <Differs text={s.trial} beside={s.now} />}
                {!s.failure && s.inForce !== s.trial && s.inForce !== null && (
                  <span className="dim">
                    {' '}
                    (version in force: <Differs text={s.inForce} beside={s.trial} />)
                  </span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <span className="dim small">
        {there} and this map are {compared}.
      </span>
    </div>
  )
}

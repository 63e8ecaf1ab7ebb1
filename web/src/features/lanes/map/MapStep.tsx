import { Button, Select } from '@mantine/core'
import { useDebouncedValue, useHotkeys } from '@mantine/hooks'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import type { Schemas } from '../../../shared/api'
import { Differs } from '../../../shared/Differs'
import { count, plural, share } from '../../../shared/format'
import { queries, trials } from '../../../shared/queries'
import { signs } from '../../../shared/Seam'
import { SystemMark } from '../../../shared/SystemMark'
import { Empty, Failed, Loaded } from '../../../shared/states'
import { useView } from '../../../shared/useView'
import { type FieldMap, mapOf, useDraft } from '../draft'
import { MappingEditor } from './MappingEditor'
import { accept, type MapChoices, mappingOf, type Suggestion, sourceWords, useSuggestions } from './map'
import { Reasons } from './Reasons'

/** The field map: for each field of the target its source and its chain, with the values of one record all along. */
export function MapStep() {
  const { lane } = useDraft()
  const choices = useQuery(queries.mapChoices(lane.id))
  return <Loaded of={choices}>{(c) => <FieldMapOf choices={c} />}</Loaded>
}

type Target = MapChoices['target'][number]

/**
 * The fields of the target in the order of their trouble: refused and failing ones first, then those without a source. The one that is
 * chosen keeps its place while it is edited.
 */
function useRanked(choices: MapChoices, map: FieldMap, open: Suggestion[], looked: boolean, chosen: string | undefined) {
  const { mapTrial: trial, faults } = useDraft()
  const effect = (name: string) => trial?.fields.find((f) => f.target === name)
  const faultsAt = (name: string) => {
    const i = (map.fields ?? []).findIndex((f) => f.target === name)
    return faults.filter((f) => f.severity === 'refuse' && (f.path === `fields[${i}]` || f.path.startsWith(`fields[${i}].`)))
  }
  const rank = ({ field }: Target) => {
    if (mappingOf(map, field.name)) return (effect(field.name)?.failing ?? 0) > 0 || faultsAt(field.name).length > 0 ? 0 : 4
    return field.required ? 1 : open.some((s) => s.mapping.target === field.name) ? 2 : 3
  }
  const mappable = choices.target.filter((t) => t.mappable || mappingOf(map, t.field.name))
  const ranks = useRef(new Map<string, number>())
  // Every change asks for the values anew; what counts is that they were there once.
  const settled = useRef(false)
  if (looked) settled.current = true
  for (const t of mappable) if (!settled.current || t.field.name !== chosen) ranks.current.set(t.field.name, rank(t))
  const rankOf = (t: Target) => ranks.current.get(t.field.name) ?? rank(t)
  return { rows: [...mappable].sort((a, b) => rankOf(a) - rankOf(b)), effect, faultsAt }
}

function FieldMapOf({ choices }: { choices: MapChoices }) {
  const { lane, document, tried, setMap, setFocus, mapTrial: trial } = useDraft()
  const [state, set] = useView('/lanes/$lane/map')
  const go = (change: typeof state) => set(change, true)
  const suggestions = useSuggestions(lane.id)
  const map = mapOf(document) ?? {}
  const open = (suggestions.data ?? []).filter((s) => !mappingOf(map, s.mapping.target))
  const look = useQuery({
    ...trials.record(lane.id, { map: mapOf(tried) ?? {}, sourceKey: state.row ?? null }, lane.comparedAt),
    placeholderData: keepPreviousData,
  })

  const { rows, effect, faultsAt } = useRanked(choices, map, open, look.isFetched && suggestions.isFetched, state.field)
  const gone = (map.fields ?? []).filter((f) => !choices.target.some((t) => t.field.name === f.target))
  const chosen = state.field ?? rows[0]?.field.name
  const at = rows.findIndex((t) => t.field.name === chosen)
  useEffect(() => setFocus(chosen ?? null), [chosen, setFocus])

  const take_ = (some: Suggestion[]) => setMap((m) => accept(m, some))
  const suggested = (name: string | undefined) => open.find((s) => s.mapping.target === name)
  const step = (by: number) => {
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))]
    if (!next) return
    go({ field: next.field.name })
    document_(next.field.name)?.focus()
  }
  useHotkeys([
    ['j', () => step(1)],
    ['k', () => step(-1)],
    [
      's',
      () => {
        const s = suggested(chosen)
        if (s) take_([s])
      },
    ],
    ['shift+s', () => take_(open)],
  ])
  const left = choices.target.filter((t) => !t.mappable && t.field.writable)
  const target = choices.target.find((t) => t.field.name === chosen)
  return (
    <>
      <div className="row wrap">
        <Sample sample={look.data} choose={(row) => go({ row })} />
        <span className="grow" />
        <Coverage trial={trial} lane={lane.id} empty={(map.fields ?? []).length === 0} />
        {(open.length > 0 || suggestions.isLoading) && (
          <Button variant="filled" loading={suggestions.isLoading} onClick={() => take_(open)}>
            Accept all {count(open.length)} suggestions
          </Button>
        )}
      </div>
      {look.isError && <Failed error={look.error} />}
      <div className="split" style={{ gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1.18fr)' }}>
        <section className="sheet side" aria-label="Fields of the target">
          <div className="map-head">
            <span>
              <SystemMark system={lane.target} /> field, and where it comes from
            </span>
            <span>the sample by this map</span>
          </div>
          {gone.map((f) => (
            <Gone key={f.target} field={f.target} />
          ))}
          {rows.map((t) => (
            <Row
              key={t.field.name}
              target={t}
              choices={choices}
              chosen={t.field.name === chosen}
              look={look.data?.fields.find((f) => f.target === t.field.name)}
              suggestion={suggested(t.field.name)}
              failing={effect(t.field.name)?.failing ?? 0}
              cut={effect(t.field.name)?.cut ?? 0}
              wrong={faultsAt(t.field.name).length > 0}
              choose={() => go({ field: t.field.name })}
            />
          ))}
          {left.length > 0 && (
            <div className="line dim small" style={{ display: 'block' }}>
              {'rule' in document ? 'Made by the rule' : 'Left to the lanes for prices and stock'}:{' '}
              {left.map((t) => t.field.label).join(', ')}.
            </div>
          )}
        </section>
        {target ? (
          <MappingEditor
            key={target.field.name}
            target={target}
            choices={choices}
            suggestion={suggested(target.field.name)}
            accept={(s) => take_([s])}
            look={look.data?.fields.find((f) => f.target === target.field.name)}
            samples={trial?.samples ?? []}
            faults={faultsAt(target.field.name)}
            cut={<Cut effect={effect(target.field.name)} show={(row) => go({ row })} />}
          />
        ) : (
          <div className="sheet">
            <Empty title="Nothing to map">{lane.target.name} lets no field be written.</Empty>
          </div>
        )}
      </div>
    </>
  )
}

/** A field that is mapped and that the target has no longer. */
function Gone({ field }: { field: string }) {
  const { lane, setMap } = useDraft()
  return (
    <div className="line small minus" style={{ gridTemplateColumns: 'minmax(0, 1fr) auto' }}>
      <span>
        <span className="mono strong">{field}</span> is no longer a field of {lane.target.name}; the lane holds until it is taken out
      </span>
      <button
        type="button"
        className="act"
        onClick={() => setMap((m) => ({ ...m, fields: (m.fields ?? []).filter((x) => x.target !== field) }))}
      >
        Take it out
      </button>
    </div>
  )
}

/** Says how many texts are cut, and leads to the first of them. */
function Cut({ effect, show }: { effect: Schemas['FieldEffect'] | undefined; show: (row: string) => void }) {
  if (!effect || effect.cut === 0) return null
  return (
    <div className="small warns" role="status">
      ! {plural(effect.cut, 'text')} {effect.cut === 1 ? 'is' : 'are'} too long for it and cut.{' '}
      <button type="button" className="act" onClick={() => show(effect.firstCut as string)}>
        Show the first
      </button>
    </div>
  )
}

const document_ = (field: string) => window.document.querySelector<HTMLElement>(`[data-field="${CSS.escape(field)}"]`)

function Row(props: {
  target: MapChoices['target'][number]
  choices: MapChoices
  chosen: boolean
  look: Schemas['FieldLook'] | undefined
  suggestion: Suggestion | undefined
  failing: number
  cut: number
  wrong: boolean
  choose: () => void
}) {
  const { target: t, choices, look, suggestion } = props
  const { document } = useDraft()
  const mapping = mappingOf(mapOf(document), t.field.name)
  const steps = mapping?.steps ?? []
  const [glyph, word, color] = look?.failure ? ['✕', 'cannot be mapped', 'var(--harm)'] : signs[look?.sign ?? 'notMapped']
  return (
    <button
      type="button"
      className="plain-button line chooses map-row"
      aria-pressed={props.chosen}
      data-field={t.field.name}
      onClick={props.choose}
    >
      <span style={{ minWidth: 0 }}>
        <span className="row" style={{ gap: 6 }}>
          <span className="strong clip">{t.field.label}</span>
          {t.field.required && !mapping && <span className="tag clay">required</span>}
          {props.wrong && <span className="tag harm">does not fit</span>}
          {props.failing > 0 && <span className="tag harm">{count(props.failing)} fail</span>}
          {props.cut > 0 && (
            <span className="tag ochre" title="texts that are too long for it and are cut">
              {count(props.cut)} cut
            </span>
          )}
        </span>
        <span className="dim small clip" style={{ display: 'block' }}>
          {mapping
            ? `${sourceWords(mapping, choices)}${steps.length > 0 ? ` → ${plural(steps.length, 'step')}` : ''}`
            : suggestion
              ? `suggested: ${sourceWords(suggestion.mapping, choices)}`
              : 'no source'}
        </span>
      </span>
      <span className="map-sign" style={{ color }} role="img" aria-label={word} title={look?.failure?.words ?? look?.why ?? word}>
        {mapping ? glyph : ''}
      </span>
      <span style={{ minWidth: 0 }} className="small">
        {mapping && (
          <>
            <span className={`clip ${look?.failure ? 'minus' : 'strong'}`} style={{ display: 'block' }}>
              {look ? (look.failure?.words ?? <Differs text={look.value} beside={look.there ?? look.value} />) : '…'}
            </span>
            {look && look.sign !== 'same' && look.there && look.there !== look.value && (
              <span className="clip struck" style={{ display: 'block' }}>
                <Differs text={look.there} beside={look.value} old />
              </span>
            )}
          </>
        )}
      </span>
    </button>
  )
}

function Coverage({ trial, lane, empty }: { trial: Schemas['TrialResultMapTrial'] | undefined; lane: string; empty: boolean }) {
  if (!trial) return null
  const passing = trial.records - trial.failing
  return (
    <span className="row small">
      <span className={`tag ${trial.requiredMapped === trial.required ? 'glaze' : 'clay'}`}>
        {count(trial.requiredMapped)} of {count(trial.required)} required mapped
      </span>
      {!empty &&
        (trial.failing === 0 ? (
          <span className="tag glaze">100 % of {count(trial.records)} would pass</span>
        ) : (
          <Reasons trial={trial} lane={lane} className="tag ochre">
            {share(passing, trial.records)} of {count(trial.records)} would pass
          </Reasons>
        ))}
    </span>
  )
}

/** The record whose values are shown all along; ‹ and › go through what is found. */
function Sample({ sample, choose }: { sample: Schemas['RecordLook'] | undefined; choose: (sourceKey: string) => void }) {
  const { lane } = useDraft()
  const [typed, setTyped] = useState('')
  const [search] = useDebouncedValue(typed, 200)
  const found = useQuery({
    ...queries.samples(lane.id, search, lane.comparedAt),
    placeholderData: keepPreviousData,
  })
  const rows = found.data ?? []
  const at = rows.findIndex((r) => r.sourceKey === sample?.sourceKey)
  const name = (sku: string | null | undefined, title: string | null | undefined) => [sku, title].filter(Boolean).join('  ')
  const data = rows.map((r) => ({ value: r.sourceKey, label: name(r.reference, r.caption) }))
  if (sample && at < 0) data.unshift({ value: sample.sourceKey, label: name(sample.reference, sample.caption) })
  const go = (by: number) => {
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))]
    if (next) choose(next.sourceKey)
  }
  return (
    <div className="row" style={{ gap: 6 }}>
      <span className="dim">Sample</span>
      <SystemMark system={lane.source} />
      <Select
        aria-label="Sample record"
        searchable
        w={270}
        allowDeselect={false}
        data={data}
        filter={({ options }) => options}
        value={sample?.sourceKey ?? null}
        onSearchChange={(t) => setTyped(data.some((d) => d.label === t) ? '' : t)}
        onChange={(v) => v && choose(v)}
        nothingFoundMessage="Nothing paired matches"
      />
      <Button size="compact-sm" aria-label="Previous sample" disabled={at <= 0} onClick={() => go(-1)}>
        ‹
      </Button>
      <Button size="compact-sm" aria-label="Next sample" disabled={at >= rows.length - 1} onClick={() => go(1)}>
        ›
      </Button>
    </div>
  )
}

import { Select } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import type { Schemas } from '../../shared/api'
import { Chips } from '../../shared/Chips'
import { count, plural, when } from '../../shared/format'
import { harms } from '../../shared/harms'
import type { ViewOf } from '../../shared/listState'
import { queries } from '../../shared/queries'
import { Search } from '../../shared/Search'
import { Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { Causes } from './Causes'
import { Files } from './Files'
import { LearnedList } from './Learned'
import { type Cause, type Filter, filterOf, kindWords, useCauses } from './mismatch'
import { Records } from './Records'

/** Everything that needs a person: first by cause, then the records of one. */
export function MismatchesPage() {
  const [state, set] = useView('/mismatches')
  const filter = filterOf(state)
  const causes = useCauses(filter)
  return (
    <div className="page page-fixed">
      {state.tab === 'learned' ? (
        <LearnedList back={() => set({ tab: undefined })} />
      ) : state.cause === undefined ? (
        <>
          <div className="page-head">
            <h1>Mismatches</h1>
            <span className="dim">{causes.data && wordsOf(causes.data)}</span>
            <span className="grow" />
            <button type="button" className="act" onClick={() => set({ tab: 'learned' })}>
              What was learned
            </button>
            <Files filter={filter} />
            <Search label="SKU, number or name" text={state.search ?? ''} search={(search) => set({ search })} />
          </div>
          <Filters state={state} set={set} owners={causes.data?.owners ?? []} />
          <Loaded of={causes}>
            {(data) => <Causes causes={data.causes} filtered={isFiltered(filter)} open={(cause) => set({ cause })} />}
          </Loaded>
        </>
      ) : (
        <Records state={state} set={set} causes={causes.data?.causes ?? []} />
      )}
    </div>
  )
}

function wordsOf({ total, causes, records }: Schemas['CausesView']) {
  if (total === 0) return ''
  const of = records === null || records === total ? '' : ` of ${plural(records, 'record')}`
  return `${count(total)}${of} in ${plural(causes.length, 'cause')}, the harmful first`
}

const isFiltered = (filter: Filter) => Object.entries(filter).some(([key, v]) => key !== 'Cause' && v !== undefined)

const families: Record<string, string> = {
  held: 'what is held',
  value: 'what could not be computed',
  failed: 'what did not get there',
  order: 'orders that stand still',
}

const states = [
  ['open', 'Open'],
  ['putOff', 'Put off'],
  ['settled', 'Settled'],
  ['gone', 'Gone by themselves'],
] as const

function Filters({ state, set, owners }: { state: ViewOf<'/mismatches'>; set: (change: ViewOf<'/mismatches'>) => void; owners: string[] }) {
  const systems = useQuery(queries.systems())
  return (
    <div className="row wrap tools">
      <Chips
        label="Where they stand"
        chosen={state.show ?? 'open'}
        choose={(show) => set({ show: show === 'open' ? undefined : show })}
        chips={states.map(([key, text]) => ({ key: key as string, text, always: true }))}
      />
      {state.harm && (
        <button type="button" className="act" onClick={() => set({ harm: undefined })}>
          {`Only ${harms[state.harm as Cause['harm']][0]}: show all`}
        </button>
      )}
      {state.family && (
        <button type="button" className="act" onClick={() => set({ family: undefined })}>
          {`Only ${families[state.family] ?? state.family}: show all`}
        </button>
      )}
      {state.lane && (
        <button type="button" className="act" onClick={() => set({ lane: undefined })}>
          Only one lane: show all
        </button>
      )}
      {state.from && (
        <button type="button" className="act" onClick={() => set({ from: undefined })}>
          {`Only since ${when(state.from)}: show all`}
        </button>
      )}
      <span className="grow" />
      <Select
        aria-label="System"
        placeholder="any system"
        clearable
        w={146}
        data={(systems.data ?? []).map((s) => ({ value: s.id, label: s.name }))}
        value={state.store ?? null}
        onChange={(store) => set({ store: store ?? undefined })}
      />
      <Select
        aria-label="Kind of record"
        placeholder="any kind"
        clearable
        w={112}
        data={Object.entries(kindWords).map(([key, label]) => ({ value: key, label }))}
        value={state.kind ?? null}
        onChange={(kind) => set({ kind: kind ?? undefined })}
      />
      <Select
        aria-label="Who has it"
        placeholder="anybody's"
        clearable
        w={124}
        data={[{ value: 'nobody', label: 'nobody has it' }, ...owners.map((o) => ({ value: o, label: o }))]}
        value={state.by ?? null}
        onChange={(by) => set({ by: by ?? undefined })}
      />
    </div>
  )
}

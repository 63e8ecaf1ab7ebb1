import { useDebouncedValue } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useRouterState } from '@tanstack/react-router'
import { createContext, type ReactNode, useContext, useState } from 'react'
import { api, type LaneSummary, type Schemas, take } from '../../shared/api'
import { Loaded } from '../../shared/states'

export type RuleView = Schemas['RuleView']
export type PriceRule = Schemas['PriceRule']
export type StockRule = Schemas['StockRule']
export type FieldMap = Schemas['FieldMap']
export type FieldMapping = Schemas['FieldMapping']
export type Crosswalk = Schemas['Crosswalk']
export type GuardLimits = Schemas['GuardLimits']
/** What a rule can be made of. */
export type Choices = Schemas['RuleChoices']
export type Faults = Schemas['RuleFault'][]
export type LaneDocument = Schemas['LaneDocument']
type Edited = { document: LaneDocument; guards: GuardLimits }

/** The field map in a lane's document; null: it goes by something else. */
export const mapOf = (document: LaneDocument): FieldMap | null => (document.kind === 'item' ? document.map : null)

/** The steps on which a lane's document is edited: there its effect is computed all the time. */
const editing = /\/(scope|rule|map|crosswalks|guards)$/

const editedOf = (v: RuleView): Edited => ({ document: v.document, guards: v.guards })

function useDraftOf(lane: LaneSummary, versions: RuleView[]) {
  const queries = useQueryClient()
  const path = useRouterState({ select: (s) => s.location.pathname })
  // The version this draft was begun on; a save on top of another is refused by the server.
  const [base, setBase] = useState<RuleView>(versions[0] as RuleView)
  const [edited, setEdited] = useState<Edited>(editedOf(base))
  const [note, setNote] = useState('')
  const [focus, setFocus] = useState<string | null>(null)
  const [tried] = useDebouncedValue(edited, 250)
  const changed = JSON.stringify(edited) !== JSON.stringify(editedOf(base))
  const asked = { params: { path: { id: lane.id } } }

  const trial = useQuery({
    enabled: changed || editing.test(path),
    queryKey: ['trial', lane.id, tried, focus, lane.comparedAt],
    // What was tried before the last change is given up, or a large catalogue would be computed for every letter.
    queryFn: ({ signal }) => take(api.POST('/api/lanes/{id}/rule/try', { ...asked, signal, body: { ...tried, focus } })),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const faults: Faults = trial.data?.faults ?? []
  const save = useMutation({
    mutationFn: () => take(api.PUT('/api/lanes/{id}/rule', { ...asked, body: { baseNumber: base.number, note: note || null, ...edited } })),
    onSuccess: (saved) => {
      setBase(saved)
      setNote('')
      notifications.show({ color: 'var(--glaze)', message: `Saved as version ${saved.number}.` })
      void queries.invalidateQueries({ queryKey: ['rule'] })
      void queries.invalidateQueries({ queryKey: ['lanes'] })
    },
  })
  const reload = async () => {
    await queries.invalidateQueries({ queryKey: ['rule'] })
    const newest = queries.getQueryData<RuleView[]>(['rule', lane.id])?.[0]
    if (newest) {
      setBase(newest)
      setEdited(editedOf(newest))
    }
    save.reset()
  }
  return {
    lane,
    versions,
    base,
    document: edited.document,
    guards: edited.guards,
    tried: tried.document,
    changed,
    note,
    setNote,
    setFocus,
    trial,
    /** The trial of a field map, field by field; undefined: there is none yet, or the document is no map. */
    mapTrial: trial.data?.looksAt === 'fields' ? trial.data : undefined,
    faults,
    refused: faults.some((f) => f.severity === 'refuse'),
    set: (document: LaneDocument) => setEdited((e) => ({ ...e, document })),
    setGuards: (guards: GuardLimits) => setEdited((e) => ({ ...e, guards })),
    setMap: (change: (map: FieldMap) => FieldMap) =>
      setEdited((e) => (e.document.kind === 'item' ? { ...e, document: { ...e.document, map: change(e.document.map) } } : e)),
    put: (version: RuleView) => setEdited(editedOf(version)),
    discard: () => setEdited(editedOf(base)),
    save,
    reload,
  }
}

type Draft = ReturnType<typeof useDraftOf>

const Context = createContext<Draft | null>(null)

/** The lane's document while it is edited: one draft for all of its steps, until it is saved as a version. */
export function useDraft(): Draft {
  const draft = useContext(Context)
  if (!draft) throw new Error('This lane has no document.')
  return draft
}

export const useVersions = (lane: string) =>
  useQuery({
    queryKey: ['rule', lane],
    queryFn: () => take(api.GET('/api/lanes/{id}/rule/versions', { params: { path: { id: lane } } })),
  })

export function DraftOf({ lane, children }: { lane: LaneSummary; children: ReactNode }) {
  const versions = useVersions(lane.id)
  return (
    <Loaded of={versions}>
      {(all) => (
        <Provider key={lane.id} lane={lane} versions={all}>
          {children}
        </Provider>
      )}
    </Loaded>
  )
}

function Provider({ lane, versions, children }: { lane: LaneSummary; versions: RuleView[]; children: ReactNode }) {
  return <Context value={useDraftOf(lane, versions)}>{children}</Context>
}

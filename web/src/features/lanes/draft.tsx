import { useDebouncedValue } from '@mantine/hooks'
import { notifications } from '@mantine/notifications'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useRouterState } from '@tanstack/react-router'
import { createContext, type ReactNode, useContext, useState } from 'react'
import { api, type LaneSummary, type Schemas, take } from '../../shared/api'
import { queries, trials, useRenew } from '../../shared/queries'
import { same } from '../../shared/same'
import { Loaded } from '../../shared/states'
import { type DraftView, useKeptDraft } from './keptDraft'

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
export const mapOf = (document: LaneDocument): FieldMap | null => ('map' in document ? (document.map ?? {}) : null)

/** The steps on which a lane's document is edited: there its effect is computed all the time. */
const editing = /\/(scope|rule|map|crosswalks|guards)$/

const editedOf = (v: RuleView): Edited => ({ document: v.document, guards: v.guards })

function useDraftOf(lane: LaneSummary, versions: RuleView[], found: DraftView | null) {
  // A draft that says what is in force by now is none.
  const going =
    found && !found.thrownAt && !same({ document: found.document, guards: found.guards }, editedOf(versions[0] as RuleView)) ? found : null
  const client = useQueryClient()
  const renew = useRenew()
  const path = useRouterState({ select: (s) => s.location.pathname })
  // The version this draft was begun on; a save on top of another is refused by the server.
  const [base, setBase] = useState(() => versionOf(versions, going))
  const [edited, setEdited] = useState<Edited>(() => (going ? { document: going.document, guards: going.guards } : editedOf(base)))
  const [note, setNote] = useState(going?.note ?? '')
  const [focus, setFocus] = useState<string | null>(null)
  const [tried] = useDebouncedValue(edited, 250)
  const changed = !same(edited, editedOf(base))
  const kept = useKeptDraft(lane, found, changed ? { baseNumber: base.number, note: note || null, ...edited } : null)
  const asked = { params: { path: { id: lane.id } } }

  const trial = useQuery({
    enabled: changed || editing.test(path),
    ...trials.rule(lane.id, base.number, { ...tried, focus }, lane.comparedAt),
    placeholderData: keepPreviousData,
  })
  const faults: Faults = trial.data?.faults ?? []
  const save = useMutation({
    mutationFn: (sent: Edited) =>
      take(api.PUT('/api/lanes/{id}/rule', { ...asked, body: { baseNumber: base.number, note: note || null, ...sent } })),
    onSuccess: (saved, sent) => {
      kept.saved()
      setBase(saved)
      setNote('')
      // What was saved is shown as it was understood; what was changed meanwhile stays in hand.
      setEdited((e) => (e === sent ? editedOf(saved) : e))
      notifications.show({ color: 'var(--glaze)', message: `Saved as version ${saved.number}.` })
      void renew('rule', 'lanes')
    },
  })
  const reload = async () => {
    await renew('rule')
    const newest = client.getQueryData(queries.versions(lane.id).queryKey)?.[0]
    if (newest) {
      setBase(newest)
      setEdited(editedOf(newest))
    }
    save.reset()
  }
  const goOn = (draft: DraftView | null) => {
    if (!draft) return
    setBase(versionOf(versions, draft))
    setEdited({ document: draft.document, guards: draft.guards })
    setNote(draft.note ?? '')
    kept.goOnFrom(draft)
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
      setEdited((e) => {
        const map = mapOf(e.document)
        return map ? { ...e, document: { ...e.document, map: change(map) } as LaneDocument } : e
      }),
    put: (version: RuleView) => setEdited(editedOf(version)),
    discard: () => {
      kept.throwAway()
      setEdited(editedOf(base))
    },
    /** What was thrown away last, and the way back to it. */
    thrown: kept.thrown,
    bringBack: async () => goOn(await kept.bringBack()),
    /** Another window has changed the draft: which of the two is to be gone on with. */
    conflict: kept.conflict,
    takeTheirs: async () => goOn(await kept.newest()),
    keepMine: async () => kept.goOnFrom(await kept.newest()),
    save: { ...save, mutate: () => save.mutate(edited) },
    reload,
  }
}

/** The version that a draft was begun on; where there is none, the one in force. */
const versionOf = (versions: RuleView[], draft: DraftView | null) =>
  versions.find((v) => v.number === draft?.baseNumber) ?? (versions[0] as RuleView)

type Draft = ReturnType<typeof useDraftOf>

const Context = createContext<Draft | null>(null)

/** The lane's document while it is edited: one draft for all of its steps, until it is saved as a version. */
export function useDraft(): Draft {
  const draft = useContext(Context)
  if (!draft) throw new Error('This lane has no document.')
  return draft
}

export function DraftOf({ lane, children }: { lane: LaneSummary; children: ReactNode }) {
  const versions = useQuery(queries.versions(lane.id))
  // What is kept is looked up whenever the lane is opened, and never later: from then on it is in hand.
  const draft = useQuery({
    ...queries.draft(lane.id),
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  })
  return (
    <Loaded of={versions}>
      {(all) => (
        <Loaded of={draft}>
          {(mine) => (
            <Provider key={lane.id} lane={lane} versions={all} draft={mine.draft}>
              {children}
            </Provider>
          )}
        </Loaded>
      )}
    </Loaded>
  )
}

function Provider(props: { lane: LaneSummary; versions: RuleView[]; draft: DraftView | null; children: ReactNode }) {
  return <Context value={useDraftOf(props.lane, props.versions, props.draft)}>{props.children}</Context>
}

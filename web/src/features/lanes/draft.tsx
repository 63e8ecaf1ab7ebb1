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
export type Faults = Schemas['RuleFault'][]
export type Document = { price: PriceRule | null; stock: StockRule | null; map: FieldMap | null; guards: GuardLimits }

/** The steps on which a lane's document is edited: there its effect is computed all the time. */
const editing = /\/(scope|rule|map|crosswalks|guards)$/

const documentOf = (v: RuleView): Document => ({ price: v.price ?? null, stock: v.stock ?? null, map: v.map ?? null, guards: v.guards })

function useDraftOf(lane: LaneSummary, versions: RuleView[]) {
  const queries = useQueryClient()
  const path = useRouterState({ select: (s) => s.location.pathname })
  // The version this draft was begun on; a save on top of another is refused by the server.
  const [base, setBase] = useState<RuleView>(versions[0] as RuleView)
  const [document, setDocument] = useState<Document>(documentOf(base))
  const [note, setNote] = useState('')
  const [focus, setFocus] = useState<string | null>(null)
  const [tried] = useDebouncedValue(document, 250)
  const changed = JSON.stringify(document) !== JSON.stringify(documentOf(base))
  const enabled = changed || editing.test(path)
  const asked = { params: { path: { id: lane.id } } }

  const rule = useQuery({
    enabled: enabled && lane.kind !== 'item',
    queryKey: ['trial', lane.id, tried, lane.comparedAt],
    // What was tried before the last change is given up, or a large catalogue would be computed for every letter.
    queryFn: ({ signal }) =>
      take(
        api.POST('/api/lanes/{id}/rule/try', { ...asked, signal, body: { price: tried.price, stock: tried.stock, guards: tried.guards } }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const map = useQuery({
    enabled: enabled && lane.kind === 'item',
    queryKey: ['trial', lane.id, tried, focus, lane.comparedAt],
    queryFn: ({ signal }) =>
      take(api.POST('/api/lanes/{id}/map/try', { ...asked, signal, body: { map: tried.map ?? {}, guards: tried.guards, focus } })),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const faults: Faults = (lane.kind === 'item' ? map.data?.faults : rule.data?.faults) ?? []
  const save = useMutation({
    mutationFn: () =>
      take(api.PUT('/api/lanes/{id}/rule', { ...asked, body: { baseNumber: base.number, note: note || null, ...document } })),
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
      setDocument(documentOf(newest))
    }
    save.reset()
  }
  return {
    lane,
    versions,
    base,
    document,
    tried,
    changed,
    note,
    setNote,
    setFocus,
    rule,
    map,
    faults,
    refused: faults.some((f) => f.severity === 'refuse'),
    set: (change: Partial<Document>) => setDocument((d) => ({ ...d, ...change })),
    setMap: (change: (map: FieldMap) => FieldMap) => setDocument((d) => ({ ...d, map: change(d.map ?? {}) })),
    put: (version: RuleView) => setDocument(documentOf(version)),
    discard: () => setDocument(documentOf(base)),
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

import { Select } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { Chips } from '../../shared/Chips'
import { count, plural } from '../../shared/format'
import { queries } from '../../shared/queries'
import { Search } from '../../shared/Search'
import type { Couple } from './actions'
import type { DeskList } from './useDeskList'

/** Which records the list shows: by verdict, by what is wrong with them, by words. */
export function DeskFilters({ couple, list }: { couple: Couple; list: DeskList }) {
  const c = couple.counts
  return (
    <div className="row wrap" style={{ gap: 8 }}>
      <Chips
        label="Records by verdict"
        slim
        chosen={list.show}
        choose={(k) => list.go({ show: k })}
        chips={[
          { key: 'likely', text: 'likely', word: 'likely', count: c.likely, always: true },
          { key: 'ambiguous', text: 'ambiguous', word: 'ambiguous', count: c.ambiguous, always: true },
          { key: 'none', text: 'none', word: 'none', count: c.none, always: true },
          { key: 'certain', text: 'certain', word: 'certain', count: c.certain, always: true },
          { key: 'waiting', text: 'decided', count: c.waiting },
          { key: 'setAside', text: 'set aside', count: c.setAside },
          { key: 'toCreate', text: 'to create', count: c.toCreate },
          { key: 'paired', text: 'paired', count: c.paired, always: true },
        ]}
      />
      <span className="grow" />
      <Causes couple={couple} chosen={list.state.cause} choose={(cause) => list.go({ show: list.show, cause })} />
      <Search label="Filter this list" slim text={list.state.search ?? ''} search={list.search} />
    </div>
  )
}

/** Housekeeping: records by what is wrong with them. */
function Causes({ couple, chosen, choose }: { couple: Couple; chosen: string | undefined; choose: (cause: string | undefined) => void }) {
  const causes = useQuery(queries.deskCauses(couple.id))
  const mark = (side: string) => (side === 'hub' ? couple.hub.mark : couple.other.mark)
  return (
    <Select
      size="xs"
      w={230}
      aria-label="Housekeeping cause"
      placeholder={`Housekeeping: ${plural(causes.data?.length ?? 0, 'cause')}`}
      clearable
      clearButtonProps={{ 'aria-label': 'Every cause' }}
      value={chosen ?? null}
      onChange={(v) => choose(v ?? undefined)}
      data={(causes.data ?? []).map((x) => ({ value: x.cause, label: `${mark(x.side)}: ${x.words} (${count(x.count)})` }))}
    />
  )
}

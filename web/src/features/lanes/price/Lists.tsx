import { MultiSelect, Select } from '@mantine/core'
import type { PartOf } from './part'

/** From which list a price comes, and to which it goes. */
export function Lists({ rule, set, choices, faultAt }: PartOf) {
  const own = choices.targetLists.length > 0 ? (rule.targetList ?? choices.targetLists[0]) : null
  return (
    <>
      <span>Price from</span>
      <div className="row wrap">
        <Select
          aria-label="Price list"
          data={choices.priceLists}
          value={rule.priceList ?? null}
          onChange={(v) => set({ priceList: v })}
          error={faultAt('priceList')}
          w={130}
        />
        <MultiSelect
          aria-label="Lists to fall back on"
          placeholder={rule.fallbackLists?.length ? '' : 'no fallback list'}
          data={choices.priceLists.filter((l) => l !== rule.priceList)}
          value={rule.fallbackLists ?? []}
          onChange={(v) => set({ fallbackLists: v })}
          style={{ flex: 1 }}
        />
      </div>

      {(choices.targetLists.length > 0 || rule.targetList) && (
        <>
          <span>It becomes there</span>
          <Select
            aria-label="Price list there"
            w={130}
            data={choices.targetLists}
            value={own ?? null}
            allowDeselect={false}
            onChange={(v) => set({ targetList: v })}
            error={faultAt('targetList')}
          />
        </>
      )}
    </>
  )
}

/** What customer groups pay. */
export function Groups({ rule, set, choices, faultAt }: PartOf) {
  const groups = rule.groups ?? []
  // The list that the price itself goes to is nobody else's.
  const own = choices.targetLists.length > 0 ? (rule.targetList ?? choices.targetLists[0]) : null
  const forGroups = [...new Set([...choices.groups.filter((g) => g !== own), ...groups.map((g) => g.group)])]
  if (forGroups.length === 0) return null
  return (
    <>
      <span>Customer groups</span>
      <div className="stack" style={{ gap: 6 }}>
        {forGroups.map((group) => (
          <div key={group} className="row">
            <span style={{ width: 110 }}>{group}</span>
            <Select
              aria-label={`Price list for ${group}`}
              w={190}
              clearable
              placeholder="stays as it is there"
              data={choices.priceLists}
              value={groups.find((g) => g.group === group)?.priceList ?? null}
              error={faultAt(`groups[${groups.findIndex((g) => g.group === group)}]`)}
              onChange={(v) =>
                set({ groups: [...groups.filter((g) => g.group !== group), ...(v === null ? [] : [{ group, priceList: v }])] })
              }
            />
          </div>
        ))}
      </div>
    </>
  )
}

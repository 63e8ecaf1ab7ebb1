import { Select, TagsInput } from '@mantine/core'
import { afterActs, afterChoices } from '../../../shared/after'
import type { Schemas } from '../../../shared/api'
import { sentence } from '../../../shared/format'

type After = NonNullable<Schemas['LaneDocumentOrderPolicy']['after']>

/** What becomes of a document when its order changes in the store. */
export function AfterForm({ after, set }: { after: After; set: (after: After) => void }) {
  return (
    <>
      {afterChoices.map(([part, label, choices]) => (
        <div key={part} className="row">
          <span style={{ width: 130 }}>{label}</span>
          <Select
            aria-label={`When changed: ${label}`}
            w={330}
            allowDeselect={false}
            data={choices.map((c) => ({ value: c, label: sentence(`the document ${afterActs[c]}`) }))}
            value={after[part] ?? 'hold'}
            onChange={(v) => set({ ...after, [part]: v })}
          />
        </div>
      ))}
      <div className="row">
        <span style={{ width: 130 }}>as long as it is</span>
        <TagsInput
          aria-label="States of the hub in which it may be touched"
          placeholder={(after.while ?? []).length === 0 ? 'in any state of the hub' : undefined}
          w={330}
          value={after.while ?? []}
          onChange={(states) => set({ ...after, while: states })}
        />
      </div>
    </>
  )
}

import { Select, TextInput } from '@mantine/core'
import type { Settings } from './workspace'

/** What a workspace is called, and how times and amounts are told in it. */
export function WorkspaceFields(props: { settings: Settings; zones: string[]; set: (change: Partial<Settings>) => void }) {
  const { settings, zones, set } = props
  return (
    <>
      <label htmlFor="workspace-name">Name</label>
      <TextInput id="workspace-name" w={320} maxLength={80} value={settings.name} onChange={(e) => set({ name: e.currentTarget.value })} />
      <span>Time zone</span>
      <Select
        aria-label="Time zone"
        w={320}
        searchable
        allowDeselect={false}
        data={zones.includes(settings.timeZone) ? zones : [settings.timeZone, ...zones]}
        value={settings.timeZone}
        onChange={(zone) => zone && set({ timeZone: zone })}
      />
      <label htmlFor="workspace-currency">Currency</label>
      <TextInput
        id="workspace-currency"
        w={110}
        maxLength={3}
        placeholder="EUR"
        value={settings.currency ?? ''}
        onChange={(e) => set({ currency: e.currentTarget.value.toUpperCase() || null })}
      />
      <label htmlFor="workspace-country">Country</label>
      <TextInput
        id="workspace-country"
        w={110}
        maxLength={2}
        placeholder="IE"
        title="for telephone numbers without a country code"
        value={settings.country ?? ''}
        onChange={(e) => set({ country: e.currentTarget.value.toUpperCase() || null })}
      />
    </>
  )
}

import { Select, TextInput } from '@mantine/core'
import type { Schemas } from '../../shared/api'
import type { Settings } from './workspace'

const numberForms: { value: Schemas['NumberForm']; label: string }[] = [
  { value: 'point', label: '1,234.50' },
  { value: 'comma', label: '1.234,50' },
  { value: 'spaceComma', label: '1 234,50' },
  { value: 'apostrophePoint', label: '1’234.50' },
]

const dateForms: { value: Schemas['DateForm']; label: string }[] = [
  { value: 'dayFirst', label: '29 November 2026' },
  { value: 'monthFirst', label: 'November 29, 2026' },
  { value: 'dots', label: '29.11.2026' },
  { value: 'slashes', label: '29/11/2026' },
  { value: 'yearFirst', label: '2026-11-29' },
]

const firstDays: { value: Schemas['FirstDay']; label: string }[] = [
  { value: 'monday', label: 'Monday' },
  { value: 'saturday', label: 'Saturday' },
  { value: 'sunday', label: 'Sunday' },
]

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
      <span>Numbers</span>
      <Select
        aria-label="Numbers"
        w={320}
        allowDeselect={false}
        data={numberForms}
        value={settings.numbers ?? 'point'}
        onChange={(numbers) => numbers && set({ numbers })}
      />
      <span>Dates</span>
      <Select
        aria-label="Dates"
        w={320}
        allowDeselect={false}
        data={dateForms}
        value={settings.dates ?? 'dayFirst'}
        onChange={(dates) => dates && set({ dates })}
      />
      <span>Weeks begin on</span>
      <Select
        aria-label="Weeks begin on"
        w={320}
        allowDeselect={false}
        data={firstDays}
        value={settings.firstDay ?? 'monday'}
        onChange={(firstDay) => firstDay && set({ firstDay })}
      />
    </>
  )
}

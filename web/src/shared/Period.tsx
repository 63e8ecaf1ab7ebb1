import { Select } from '@mantine/core'
import { useState } from 'react'
import { startOfDay, startOfWeek } from './format'
import { Moment } from './Moment'

type Between = { from?: string; until?: string }

const between = 'from … until …'

/** Between which instants something lies: days and weeks of the workspace at a press, or any two instants. */
export function Period({ value, set }: { value: Between; set: (change: Between) => void }) {
  const now = new Date().toISOString()
  const week = startOfWeek(now)
  const usual: Record<string, Between> = {
    today: { from: startOfDay(now) },
    'this week': { from: week },
    'last week': { from: startOfWeek(week, -1), until: week },
  }
  const [isOpen, setOpen] = useState(false)
  const known = Object.keys(usual).find((name) => usual[name]?.from === value.from && usual[name]?.until === value.until)
  const isOwn = isOpen || (!known && (value.from !== undefined || value.until !== undefined))
  const choose = (name: string | null) => {
    setOpen(name === between)
    if (name !== between) set({ from: undefined, until: undefined, ...(name ? usual[name] : {}) })
  }
  return (
    <>
      <Select
        aria-label="When"
        placeholder="any time"
        w={150}
        clearable
        data={[...Object.keys(usual), between]}
        value={isOwn ? between : (known ?? null)}
        onChange={choose}
      />
      {isOwn && (
        <>
          <Moment label="from" value={value.from} set={(from) => set({ from })} />
          <Moment label="until" value={value.until} set={(until) => set({ until })} />
        </>
      )}
    </>
  )
}

import { Button, Textarea } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, take } from '../../shared/api'
import { Dialog } from '../../shared/Dialog'
import { queries, useRenew } from '../../shared/queries'
import { Failed } from '../../shared/states'
import { useStale } from './job'

/** Days on which no job begins by the clock, as a table that can be pasted: a date a line, with what it is. */
export function DaysOff({ opened, close }: { opened: boolean; close: () => void }) {
  const renew = useRenew()
  const stale = useStale()
  const days = useQuery({ ...queries.daysOff(), enabled: opened })
  const [text, setText] = useState<string>()
  const shown = text ?? (days.data ?? []).map((d) => `${d.date}${d.name ? ` ${d.name}` : ''}`).join('\n')
  const keep = useMutation({
    mutationFn: () => take(api.PUT('/api/days-off', { body: read(shown) })),
    onSuccess: () => {
      void renew('days-off')
      stale()
      setText(undefined)
      close()
    },
  })
  return (
    <Dialog title="Days off" opened={opened} close={close}>
      <div className="stack">
        <Textarea
          aria-label="Days off"
          description="A date a line, with what it is: 2026-12-25 Christmas"
          value={shown}
          onChange={(e) => setText(e.currentTarget.value)}
          autosize
          minRows={5}
          maxRows={12}
        />
        <span className="dim small">
          No job begins by the clock on these days, whatever its timetable says. What happens at once still does.
        </span>
        {keep.isError && <Failed error={keep.error} />}
        <div className="row">
          <span className="grow" />
          <Button onClick={close}>Not now</Button>
          <Button variant="filled" loading={keep.isPending} onClick={() => keep.mutate()}>
            Keep
          </Button>
        </div>
      </div>
    </Dialog>
  )
}

const read = (text: string) =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .map((line) => {
      const [date = '', ...name] = line.split(/[\s;,]+/)
      return { date, name: name.join(' ') || null }
    })

import { Button, NumberInput, SegmentedControl } from '@mantine/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, type LaneSummary, take } from '../../shared/api'
import { clock, every } from '../../shared/format'
import { Failed, Loaded } from '../../shared/states'
import { useLane } from './lane'

export function TimetableStep() {
  const lane = useLane()
  return <Loaded of={lane}>{(data) => <Form key={`${data.id}${data.everyMinutes}`} lane={data} />}</Loaded>
}

function Form({ lane }: { lane: LaneSummary }) {
  const queries = useQueryClient()
  const hours = lane.everyMinutes !== null && lane.everyMinutes % 60 === 0
  const [unit, setUnit] = useState(hours ? 'hours' : 'minutes')
  const [amount, setAmount] = useState<number | string>(lane.everyMinutes ? lane.everyMinutes / (hours ? 60 : 1) : 5)
  const set = useMutation({
    mutationFn: (times: { everyMinutes: number | null; paused: boolean }) =>
      take(api.PUT('/api/lanes/{id}/timetable', { params: { path: { id: lane.id } }, body: times })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['lanes'] }),
  })
  const minutes = Number(amount) * (unit === 'hours' ? 60 : 1)
  const coming = lane.nextDueAt
    ? Array.from({ length: 5 }, (_, i) =>
        clock(new Date(Date.parse(lane.nextDueAt as string) + i * (lane.everyMinutes ?? 0) * 60_000).toISOString()),
      )
    : []
  return (
    <section className="sheet pad stack" style={{ maxWidth: 680 }}>
      <div>
        {lane.everyMinutes === null ? (
          <>
            This lane runs <span className="strong">by hand</span> only.
          </>
        ) : lane.paused ? (
          <>
            <span className="strong">Paused.</span> It would run {every(lane.everyMinutes)}.
          </>
        ) : (
          <>
            It runs <span className="strong">{every(lane.everyMinutes)}</span>; the next times are{' '}
            <span className="mono">{coming.join(', ')}</span>. Values that look wrong are held, the rest is sent.
          </>
        )}
      </div>
      <div className="row">
        Every
        <NumberInput
          aria-label="Every how many"
          value={amount}
          onChange={setAmount}
          min={1}
          max={unit === 'hours' ? 24 : 1440}
          w={90}
          size="sm"
          allowDecimal={false}
        />
        <SegmentedControl
          aria-label="Unit"
          value={unit}
          onChange={setUnit}
          data={[
            { value: 'minutes', label: 'minutes' },
            { value: 'hours', label: 'hours' },
          ]}
        />
        <Button variant="filled" loading={set.isPending} onClick={() => set.mutate({ everyMinutes: minutes, paused: false })}>
          {lane.everyMinutes === null ? 'Turn the timetable on' : 'Set'}
        </Button>
        {lane.everyMinutes !== null && (
          <>
            <Button onClick={() => set.mutate({ everyMinutes: lane.everyMinutes, paused: !lane.paused })}>
              {lane.paused ? 'Go on' : 'Pause'}
            </Button>
            <Button onClick={() => set.mutate({ everyMinutes: null, paused: false })}>By hand only</Button>
          </>
        )}
      </div>
      {set.isError && <Failed error={set.error} />}
    </section>
  )
}

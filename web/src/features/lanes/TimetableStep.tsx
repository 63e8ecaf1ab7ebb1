import { Button, Select } from '@mantine/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { Link, useNavigate } from '@tanstack/react-router'
import { api, type LaneSummary, take } from '../../shared/api'
import { when } from '../../shared/format'
import { useLane } from '../../shared/lane'
import { queries, useRenew } from '../../shared/queries'
import { Failed, Loaded } from '../../shared/states'

export function TimetableStep() {
  const lane = useLane()
  return <Loaded of={lane}>{(data) => (data.job ? <InJob lane={data} job={data.job} /> : <ByHand lane={data} />)}</Loaded>
}

function InJob({ lane, job }: { lane: LaneSummary; job: NonNullable<LaneSummary['job']> }) {
  const renew = useRenew()
  const leave = useMutation({
    mutationFn: (leftOut: boolean) => take(api.PUT('/api/lanes/{id}/left-out', { params: { path: { id: lane.id } }, body: { leftOut } })),
    onSuccess: () => void renew('lanes'),
  })
  return (
    <section className="sheet pad stack" style={{ maxWidth: 680 }}>
      <div>
        It runs with the job{' '}
        <Link to="/timetable/$job" params={{ job: job.id }} search={{}} className="act">
          {job.name}
        </Link>
        . {job.words}
      </div>
      <div>
        {lane.paused ? (
          <span className="strong">The job leaves it out until you take it in again.</span>
        ) : job.paused ? (
          'The job is paused.'
        ) : (
          lane.nextDueAt && `The next turn begins ${when(lane.nextDueAt)}. Values that look wrong are held, the rest is sent.`
        )}
      </div>
      <div className="row">
        <Button loading={leave.isPending} onClick={() => leave.mutate(!lane.paused)}>
          {lane.paused ? 'Take it in again' : 'Leave it out'}
        </Button>
      </div>
      {leave.isError && <Failed error={leave.error} />}
    </section>
  )
}

function ByHand({ lane }: { lane: LaneSummary }) {
  const navigate = useNavigate()
  const jobs = useQuery(queries.jobs())
  const others = jobs.data ?? []
  return (
    <section className="sheet pad stack" style={{ maxWidth: 680 }}>
      <div>
        This lane runs <span className="strong">by hand</span> only.
      </div>
      <div className="row">
        <Button variant="filled" onClick={() => void navigate({ to: '/timetable/new', search: { lane: lane.id } })}>
          Make a job for it
        </Button>
        {others.length > 0 && (
          <Select
            aria-label="Put it into a job"
            placeholder="or put it into a job"
            w={260}
            searchable
            value={null}
            data={others.map((j) => ({ value: j.id, label: j.document.name }))}
            onChange={(job) => job && void navigate({ to: '/timetable/$job', params: { job }, search: { tab: 'change', lane: lane.id } })}
          />
        )}
      </div>
    </section>
  )
}

import { Button } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { useStartRun } from '../../shared/acts'
import type { LaneSummary } from '../../shared/api'
import { useLane } from '../../shared/lane'
import { queries } from '../../shared/queries'
import { Empty, Loaded } from '../../shared/states'
import { useView } from '../../shared/useView'
import { ChangeSet } from './ChangeSet'
import { RunProgress } from './RunProgress'

/** The newest change set of the lane: what a run would write, before it does. */
export function PreviewStep() {
  const lane = useLane()
  return <Loaded of={lane}>{(data) => <Preview lane={data} />}</Loaded>
}

function Preview({ lane }: { lane: LaneSummary }) {
  const [state, set] = useView('/lanes/$lane/preview')
  const start = useStartRun()
  const id = lane.workingRunId ?? lane.readyRunId ?? lane.comparedRunId
  const run = useQuery({
    enabled: id !== null && id !== undefined,
    ...queries.run(id as number),
  })
  if (id === null || id === undefined)
    return (
      <div className="sheet">
        <Empty title="Nothing has been compared yet">
          A preview reads both systems, pairs, computes and compares. It writes nothing.
          <Button variant="filled" onClick={() => start.mutate({ lane: lane.id, preview: true })}>
            Preview
          </Button>
        </Empty>
      </div>
    )
  return (
    <Loaded of={run}>
      {(detail) =>
        detail.run.state === 'working' && detail.run.plannedAt === null ? (
          <RunProgress run={detail.run} />
        ) : (
          <ChangeSet detail={detail} state={state} set={set} />
        )
      }
    </Loaded>
  )
}

import { Button } from '@mantine/core'
import { useStartRun } from './acts'
import type { LaneSummary } from './api'
import { Dialog } from './Dialog'
import { plural, when } from './format'

/** Asks before a lane is run, since a run sends at once what no guard stops. */
export function RunNow({ lane, opened, close }: { lane: LaneSummary; opened: boolean; close: () => void }) {
  const start = useStartRun()
  const { standing, work } = lane
  const known = standing.runId !== null && !standing.isStale
  return (
    <Dialog opened={opened} close={close} title={`Run ${lane.name.toLowerCase()} and send to ${lane.target.name}?`}>
      <div className="stack">
        <div>
          Both systems are read anew, and everything that differs is sent at once, unless a guard stops it. Each is checked against what is
          there before it is sent, and read back afterwards.
        </div>
        <div className="dim">
          {known
            ? `By the comparison of ${when(standing.comparedAt)} ${plural(standing.open, work.noun.one, work.noun.many)} of ` +
              `${plural(standing.compared, 'record')} are not in step.`
            : 'Nothing has been compared by the present pairs yet; a preview says how much would be sent.'}
        </div>
        <div className="row">
          <span className="grow" />
          <Button onClick={close}>Not now</Button>
          <Button
            variant="filled"
            data-autofocus
            loading={start.isPending}
            onClick={() => start.mutate({ lane: lane.id, preview: false }, { onSuccess: close })}
          >
            Run and send now
          </Button>
        </div>
      </div>
    </Dialog>
  )
}

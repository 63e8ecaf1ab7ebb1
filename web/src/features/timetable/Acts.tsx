import { Button, Menu, NumberInput } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from '@tanstack/react-router'
import { useState } from 'react'
import { Dialog } from '../../shared/Dialog'
import { startOfDay } from '../../shared/format'
import { Moment } from '../../shared/Moment'
import { trials } from '../../shared/queries'
import { Failed } from '../../shared/states'
import { CopyJob } from './CopyJob'
import { EffectWords } from './EffectWords'
import { type Job, type JobAct, useAct } from './job'

type Asked = JobAct['kind']

const names: Partial<Record<Asked, string>> = {
  runNow: 'Run now',
  skip: 'Leave out the next',
  pause: 'Pause',
  goOn: 'Go on',
  switchOff: 'Switch off',
  switchOn: 'Switch on',
}

/** What a person does with a job in hand; each says what will follow before it is done. */
export function Acts({ job, slim }: { job: Job; slim?: boolean }) {
  const navigate = useNavigate()
  const act = useAct(job.id)
  const [asked, setAsked] = useState<Asked>()
  const [copies, setCopies] = useState(false)
  const kept = job.paused || job.skipNext > 0
  const name = job.document.name
  return (
    <div className="row" style={{ gap: 6, justifyContent: 'flex-end' }}>
      {kept && !slim && <Button onClick={() => setAsked('goOn')}>Go on</Button>}
      <Button aria-label={`Run now ${name}`} onClick={() => setAsked('runNow')}>
        Run now
      </Button>
      <Menu position="bottom-end">
        <Menu.Target>
          <Button aria-label={`… more of ${name}`}>…</Button>
        </Menu.Target>
        <Menu.Dropdown>
          {kept && <Menu.Item onClick={() => setAsked('goOn')}>Go on</Menu.Item>}
          <Menu.Item onClick={() => setAsked('skip')}>Leave out the next</Menu.Item>
          <Menu.Item onClick={() => setAsked('pause')}>Pause until …</Menu.Item>
          <Menu.Item onClick={() => void navigate({ to: '/timetable/$job', params: { job: job.id }, search: { tab: 'change' } })}>
            Change its times
          </Menu.Item>
          <Menu.Item onClick={() => setCopies(true)}>Copy to another store</Menu.Item>
          <Menu.Item onClick={() => act.mutate({ kind: job.document.onTop ? 'letDown' : 'keepOnTop' })}>
            {job.document.onTop ? 'Let down from the top' : 'Keep at the top'}
          </Menu.Item>
          <Menu.Item onClick={() => setAsked(job.document.off ? 'switchOn' : 'switchOff')}>
            {job.document.off ? 'Switch on' : 'Switch off'}
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {asked && <Ask job={job} kind={asked} close={() => setAsked(undefined)} />}
      {copies && <CopyJob job={job} close={() => setCopies(false)} />}
    </div>
  )
}

function Ask({ job, kind, close }: { job: Job; kind: Asked; close: () => void }) {
  const [times, setTimes] = useState<number | string>(1)
  const [until, setUntil] = useState<string | undefined>(() => startOfDay(new Date().toISOString(), 1))
  const body: JobAct = {
    kind,
    count: kind === 'skip' ? Number(times) : null,
    until: kind === 'pause' ? (until ?? null) : null,
  }
  const effect = useQuery({
    ...trials.jobAct(job.id, body),
  })
  const act = useAct(job.id)
  const name = names[kind] ?? kind
  return (
    <Dialog title={`${name}: ${job.document.name}`} opened close={close}>
      <div className="stack">
        {kind === 'skip' && (
          <div className="row">
            <NumberInput aria-label="How many times" value={times} onChange={setTimes} min={0} max={1000} w={90} allowDecimal={false} />
            <span>of its next times; 0 takes it back</span>
          </div>
        )}
        {kind === 'pause' && (
          <div className="row wrap">
            <Moment label="until" value={until} set={setUntil} />
            <button type="button" className="act" onClick={() => setUntil(undefined)}>
              until further notice
            </button>
          </div>
        )}
        {effect.isError ? <Failed error={effect.error} /> : effect.data && <EffectWords effect={effect.data} />}
        <div className="row">
          <span className="grow" />
          <Button onClick={close}>Not now</Button>
          <Button
            variant="filled"
            disabled={!effect.isSuccess}
            loading={act.isPending}
            onClick={() => act.mutate(body, { onSuccess: close })}
          >
            {name}
          </Button>
        </div>
      </div>
    </Dialog>
  )
}

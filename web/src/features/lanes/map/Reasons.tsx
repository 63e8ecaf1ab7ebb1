import { useDisclosure } from '@mantine/hooks'
import { Link } from '@tanstack/react-router'
import type { ReactNode } from 'react'
import type { Schemas } from '../../../shared/api'
import { Dialog } from '../../../shared/Dialog'
import { count, plural } from '../../../shared/format'

/** A count of records that cannot be mapped; it opens the reasons, each of which leads to its first record and the field in the way. */
export function Reasons(props: { trial: Schemas['TrialResultMapTrial']; lane: string; className: string; children: ReactNode }) {
  const { failing, failures } = props.trial
  const [opened, dialog] = useDisclosure(false)
  return (
    <>
      <button type="button" className={props.className} onClick={dialog.open}>
        {props.children}
      </button>
      <Dialog title={`${plural(failing, 'record')} cannot be mapped`} opened={opened} close={dialog.close} wide>
        <ul style={{ listStyle: 'none', margin: 0, padding: 0 }}>
          {failures.map((f) => (
            <li key={f.why.words} className="line" style={{ gridTemplateColumns: '28px minmax(0, 1fr) auto' }}>
              <span className="num strong">{count(f.count)}</span>
              <span>
                {f.why.words}
                <span className="dim small" style={{ display: 'block' }}>
                  {f.count > 1 ? 'the first is' : 'it is'} <span className="mono">{f.reference ?? f.sourceKey}</span>
                </span>
              </span>
              <Link
                to="/lanes/$lane/map"
                params={{ lane: props.lane }}
                search={{ row: f.sourceKey, field: f.target ?? undefined }}
                className="act"
                onClick={dialog.close}
              >
                Look
              </Link>
            </li>
          ))}
        </ul>
      </Dialog>
    </>
  )
}

import { Autocomplete, Button, Select, TextInput } from '@mantine/core'
import { useState } from 'react'
import { Failed } from '../../../shared/states'
import { useTrial } from './actions'
import type { Description, Resource } from './description'
import type { Secret } from './SignIn'

/** A write on trial: one field of one record, shown first, then written, read back and put back. */
export function Trial(props: { description: Description; secret: Secret; resource: Resource; keys: string[] }) {
  const { description, secret, resource, keys } = props
  const written = resource.fields.filter((f) => f.writeAs)
  const [key, setKey] = useState('')
  const [field, setField] = useState<string | null>(null)
  const [value, setValue] = useState('')
  const trial = useTrial(description, secret, resource.kind)
  const chosen = field ?? written[0]?.name ?? ''
  const ready = key && chosen
  const ask = (showOnly: boolean) => trial.mutate({ key, field: chosen, value, showOnly })
  const said = trial.data
  return (
    <fieldset className="stack" style={{ border: 0, margin: 0, padding: 0, gap: 8 }} aria-label="A write on trial">
      <div className="row wrap" style={{ alignItems: 'end' }}>
        <Autocomplete
          label="Try a write on"
          description="the key of a record of your choice"
          w={220}
          data={keys}
          value={key}
          onChange={setKey}
        />
        <Select
          label="Field"
          w={180}
          allowDeselect={false}
          data={written.map((f) => ({ value: f.name, label: f.label ?? f.name }))}
          value={chosen || null}
          onChange={setField}
        />
        <TextInput label="New value" w={140} value={value} onChange={(e) => setValue(e.currentTarget.value)} />
        <Button disabled={!ready} loading={trial.isPending && trial.variables.showOnly} onClick={() => ask(true)}>
          Show what is sent
        </Button>
        <Button
          variant="filled"
          disabled={!ready || !said}
          loading={trial.isPending && !trial.variables.showOnly}
          onClick={() => ask(false)}
        >
          Write it, and put it back
        </Button>
      </div>
      {trial.isError && <Failed error={trial.error} />}
      {said && (
        <div className={`note ${said.steps.length === 0 ? 'plain' : said.ok ? 'glaze' : 'harm'}`} role="status">
          <div>
            It holds {said.before === null ? 'nothing' : `“${said.before}”`}. Sent is{' '}
            <span className="mono">
              {said.request.method} {said.request.path} {said.request.body}
            </span>
          </div>
          {said.steps.map((s) => (
            <div key={s.words}>{s.words}</div>
          ))}
        </div>
      )}
    </fieldset>
  )
}

import { Button, FileButton, SegmentedControl, Textarea, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { Schemas } from '../../../shared/api'
import { Failed } from '../../../shared/states'
import { useProposeContract, useProposeList } from './actions'
import { CallFields } from './CallFields'
import type { Description } from './description'
import type { Secret } from './SignIn'

type Proposal = Schemas['ResourceProposal']

type From = 'call' | 'reply' | 'contract'

/** What a description is proposed from: a list that is called, a reply that is pasted, or the system's own contract. */
export function Source(props: {
  description: Description
  secret: Secret
  takeList: (proposal: Proposal) => void
  takeContract: (proposal: Schemas['ContractProposal']) => void
}) {
  const [from, setFrom] = useState<From>('contract')
  return (
    <section className="sheet pad stack" aria-label="What it says of itself">
      <h2>What it says of itself</h2>
      <div className="row">
        <SegmentedControl
          aria-label="Where it is said"
          size="xs"
          value={from}
          onChange={(to) => setFrom(to as From)}
          data={[
            { value: 'contract', label: 'Its OpenAPI document' },
            { value: 'call', label: 'Call a list' },
            { value: 'reply', label: 'A reply of its own' },
          ]}
        />
        <span className="dim small">what is proposed from it can be looked at and changed below</span>
      </div>
      {from === 'contract' ? <FromContract take={props.takeContract} /> : <FromList {...props} pasted={from === 'reply'} />}
    </section>
  )
}

function FromList(props: { description: Description; secret: Secret; pasted: boolean; takeList: (proposal: Proposal) => void }) {
  const [list, setList] = useState<Schemas['RestList']>({ path: '' })
  const [reply, setReply] = useState('')
  const propose = useProposeList(props.description, props.secret)
  const ask = () => propose.mutate(props.pasted ? { list, reply } : { list }, { onSuccess: props.takeList })
  return (
    <>
      <CallFields label="List" call={list} ways={['GET', 'graph']} set={setList} hint="path below the address, e.g. v1/products" />
      {props.pasted && (
        <Textarea
          label="Reply"
          description="JSON, XML or CSV, with up to 100 records"
          autosize
          minRows={5}
          maxRows={12}
          classNames={{ input: 'mono' }}
          value={reply}
          onChange={(e) => setReply(e.currentTarget.value)}
        />
      )}
      {propose.isError && <Failed error={propose.error} />}
      {propose.data && (
        <div className="note glaze" role="status">
          {propose.data.entries} {propose.data.entries === 1 ? 'record' : 'records'} of {propose.data.resource.label} looked at; see below.
        </div>
      )}
      <div className="row">
        <Button variant="filled" loading={propose.isPending} disabled={props.pasted ? !reply : !props.description.address} onClick={ask}>
          {props.pasted ? 'Look at it' : 'Call it'}
        </Button>
        <span className="dim small">
          {props.pasted
            ? 'it is looked at here, nothing is called'
            : 'a few requests find out how it goes on and how one record is read; nothing is written'}
        </span>
      </div>
    </>
  )
}

function FromContract({ take }: { take: (proposal: Schemas['ContractProposal']) => void }) {
  const [text, setText] = useState('')
  const [address, setAddress] = useState('')
  const propose = useProposeContract()
  const read = (from: { text?: string; address?: string }) => propose.mutate(from, { onSuccess: take })
  return (
    <>
      <div className="row" style={{ alignItems: 'end' }}>
        <TextInput
          className="grow"
          label="Where it stands"
          description="the address of its OpenAPI document, JSON"
          placeholder="https://"
          value={address}
          onChange={(e) => setAddress(e.currentTarget.value)}
        />
        <Button loading={propose.isPending} disabled={!address} onClick={() => read({ address })}>
          Fetch it
        </Button>
        <FileButton accept=".json,.yaml,.yml" onChange={async (file) => file && read({ text: await file.text() })}>
          {(open) => <Button {...open}>From a file</Button>}
        </FileButton>
      </div>
      <Textarea
        label="Or paste it"
        autosize
        minRows={2}
        maxRows={8}
        classNames={{ input: 'mono' }}
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
      />
      {propose.isError && <Failed error={propose.error} />}
      {propose.data && (
        <div className="note glaze" role="status">
          Found: {propose.data.resources.map((r) => r.resource.label).join(', ')}. Look at them below, sign in above, and read some.
        </div>
      )}
      {text && (
        <div>
          <Button variant="filled" loading={propose.isPending} onClick={() => read({ text })}>
            Read it
          </Button>
        </div>
      )}
    </>
  )
}

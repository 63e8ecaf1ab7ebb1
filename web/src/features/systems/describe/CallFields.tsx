import { Select, Textarea, TextInput } from '@mantine/core'
import { useState } from 'react'
import { type Call, graphOf } from './description'

type Way = 'GET' | 'graph' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'

const words: Record<Way, string> = {
  GET: 'GET',
  graph: 'a GraphQL query',
  POST: 'POST',
  PUT: 'PUT',
  PATCH: 'PATCH',
  DELETE: 'DELETE',
}

/** A call: how, where, and what it always says. A GraphQL query is typed as it is; any other body is JSON. */
export function CallFields<C extends Call>(props: { label: string; call: C; ways: Way[]; set: (call: C) => void; hint?: string }) {
  const { label, call, ways, set, hint } = props
  const graph = graphOf(call.body)
  const way: Way = graph !== null ? 'graph' : ((call.method ?? ways[0]) as Way)
  const choose = (to: Way) =>
    set({ ...call, method: to === 'graph' ? 'POST' : to, body: to === 'graph' ? { query: graph ?? '' } : to === 'GET' ? null : call.body })
  return (
    <div className="stack" style={{ gap: 8 }}>
      <div className="row">
        <Select
          aria-label={`${label}: how`}
          w={160}
          allowDeselect={false}
          data={ways.map((w) => ({ value: w, label: words[w] }))}
          value={way}
          onChange={(to) => choose(to as Way)}
        />
        <TextInput
          aria-label={`${label}: path`}
          className="grow"
          placeholder={hint}
          value={call.path ?? ''}
          onChange={(e) => set({ ...call, path: e.currentTarget.value })}
        />
      </div>
      {way === 'graph' && (
        <Textarea
          aria-label={`${label}: query`}
          autosize
          minRows={3}
          maxRows={10}
          classNames={{ input: 'mono' }}
          value={graph ?? ''}
          onChange={(e) => set({ ...call, body: { ...(call.body as object), query: e.currentTarget.value } })}
        />
      )}
      {way === 'POST' && graph === null && call.body !== undefined && call.body !== null && (
        <JsonBody label={`${label}: body`} body={call.body} set={(body) => set({ ...call, body })} />
      )}
    </div>
  )
}

function JsonBody({ label, body, set }: { label: string; body: unknown; set: (body: object) => void }) {
  const [text, setText] = useState(JSON.stringify(body, null, 2))
  const [wrong, setWrong] = useState<string | null>(null)
  return (
    <Textarea
      aria-label={label}
      autosize
      minRows={2}
      maxRows={10}
      classNames={{ input: 'mono' }}
      error={wrong}
      value={text}
      onChange={(e) => {
        setText(e.currentTarget.value)
        try {
          set(JSON.parse(e.currentTarget.value))
          setWrong(null)
        } catch {
          setWrong('This is not JSON yet; what it said before counts.')
        }
      }}
    />
  )
}

import { SegmentedControl, Textarea } from '@mantine/core'
import { useState } from 'react'
import { asText, type Described, fromText } from './description'
import type { KeptDescription } from './keptDescription'

/** A description being put together, as a form or as text, and what keeps it. */
export function Workbench<D extends Described>(props: {
  kept: KeptDescription<D>
  title: string
  schema: string
  beside: React.ReactNode
  form: React.ReactNode
  keep: React.ReactNode
}) {
  const { kept } = props
  const [view, setView] = useState<'form' | 'text'>('form')
  return (
    <div className="page">
      <div className="page-head">
        <h1>{props.title}</h1>
        <span className="dim">nothing of what is proposed counts before you have seen it</span>
        <span className="grow" />
        <SegmentedControl
          aria-label="How it is shown"
          size="xs"
          value={view}
          onChange={(to) => setView(to as 'form' | 'text')}
          data={[
            { value: 'form', label: 'Form' },
            { value: 'text', label: 'As text' },
          ]}
        />
        {props.beside}
      </div>
      {view === 'text' ? <AsText kept={kept} schema={props.schema} /> : props.form}
      {props.keep}
    </div>
  )
}

function AsText<D extends Described>({ kept, schema }: { kept: KeptDescription<D>; schema: string }) {
  const [text, setText] = useState(asText(kept.description))
  const read = fromText(text)
  const wrong = typeof read === 'string' ? read : read.format === kept.description.format ? undefined : `its format is ${read.format}`
  return (
    <section className="sheet pad stack" aria-label="The description as text">
      <Textarea
        label="Description"
        description="the same as the form says; docs/connect.md explains every part"
        autosize
        minRows={16}
        maxRows={30}
        classNames={{ input: 'mono' }}
        error={wrong && `It is no such description yet, and the form stays as it was: ${wrong}`}
        value={text}
        onChange={(e) => {
          setText(e.currentTarget.value)
          const now = fromText(e.currentTarget.value)
          if (typeof now !== 'string' && now.format === kept.description.format) kept.set(() => now as unknown as D)
        }}
      />
      <a href={schema} className="act">
        Its JSON Schema
      </a>
    </section>
  )
}

import { Checkbox, NumberInput, Select, TextInput } from '@mantine/core'
import type { Schemas } from '../../../shared/api'
import type { Field } from './description'
import { Place } from './Place'

type List = Schemas['RestList']

/** Where a field of a reply stands: at a path. */
export const atPath = {
  of: (field: Field) => field.path,
  cell: (field: Field, name: string, change: (to: Partial<Field>) => void) => (
    <TextInput
      aria-label={`${name}: where it stands`}
      size="xs"
      classNames={{ input: 'mono' }}
      value={field.path ?? ''}
      onChange={(e) => change({ path: e.currentTarget.value })}
    />
  ),
  writable: (field: Field) => Boolean(field.path) && !field.path?.startsWith('^'),
  blank: (name: string): Field => ({ name, path: '', type: 'text' }),
}

/** How the pages of a list follow each other. */
export function Paging(props: { list: List; ways: { value: Schemas['RestPaging']; label: string }[]; set: (list: List) => void }) {
  const { list, set } = props
  const change = (to: Partial<List>) => set({ ...list, ...to })
  const place = (label: string, name: 'pageParameter' | 'nextPath' | 'pagesPath' | 'sizeParameter' | 'totalPath', unsaid?: string) => (
    <Place label={label} unsaid={unsaid} at={list[name]} set={(at) => change({ [name]: at })} />
  )
  return (
    <div className="row wrap" style={{ alignItems: 'end' }}>
      <Select
        label="It goes on"
        size="xs"
        w={190}
        allowDeselect={false}
        data={props.ways}
        value={list.paging ?? 'none'}
        onChange={(paging) => change({ paging: paging as Schemas['RestPaging'] })}
      />
      {!['none', 'link', undefined].includes(list.paging) && place('pages are asked by', 'pageParameter')}
      {list.paging === 'cursor' && place('the next one is at', 'nextPath')}
      {list.paging === 'page' && place('number of pages at', 'pagesPath', 'not said')}
      {place('size is asked by', 'sizeParameter', 'not asked')}
      <NumberInput
        label="entries a page"
        size="xs"
        w={110}
        hideControls
        min={1}
        max={10_000}
        value={list.size ?? 100}
        onChange={(size) => change({ size: Number(size) || 1 })}
      />
      {place('total at', 'totalPath', 'not said')}
      {list.paging === 'page' && (
        <Checkbox
          label="first page is 0"
          checked={list.firstPage === 0}
          onChange={(e) => change({ firstPage: e.currentTarget.checked ? 0 : 1 })}
        />
      )}
    </div>
  )
}

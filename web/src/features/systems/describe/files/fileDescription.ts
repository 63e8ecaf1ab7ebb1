import type { Schemas } from '../../../../shared/api'
import { type Described, shortOf } from '../description'

// What a description leaves out is as usual; answers of the API say all of it.
type Said<T, Needed extends keyof T> = Pick<T, Needed> & Partial<T>

export type FileField = Said<Schemas['FileField'], 'name'>
type FileChildren = Said<Omit<Schemas['FileChildren'], 'fields'>, 'name'> & { fields: FileField[] }
type FileWrite = Said<Schemas['FileWrite'], 'file' | 'key'>
export type FileResource = Said<Omit<Schemas['FileResource'], 'fields' | 'children' | 'write'>, 'kind' | 'label' | 'file' | 'key'> & {
  fields: FileField[]
  children?: FileChildren[]
  write?: FileWrite | null
}

/** What a person puts together of a system that is reached by files. */
export type FileDescription = Described<FileResource> & {
  out: string
  archive: string
  in?: string | null
  settleSeconds?: number
  answerSeconds?: number
}

export const blankFiles: FileDescription = {
  format: 'narbit/file-system/1',
  name: '',
  kind: 'pointOfSale',
  mark: '',
  currency: 'EUR',
  address: '',
  out: 'out',
  archive: 'out/archive',
  resources: [],
}

/** The columns that a list is described with, where its file is not at hand. */
export const describedColumns = (resource: FileResource) => [
  ...new Set(
    [
      resource.key,
      resource.parent,
      resource.group,
      ...resource.fields.map((f) => f.column),
      ...(resource.children ?? []).flatMap((c) => c.fields.map((f) => f.column)),
    ].filter((c): c is string => Boolean(c)),
  ),
]

/** How the files would be written for a list that is read only so far. */
export const writtenLike = (resource: FileResource): FileWrite => ({
  file: 'narbit_{time}.csv',
  key: resource.key,
  delimiter: resource.delimiter ?? ',',
  encoding: resource.encoding ?? 'utf-8',
})

/** The description with a folder called like the system, where no other is chosen. */
export const withFolder = (description: FileDescription): FileDescription => ({
  ...description,
  address: description.address || shortOf(description.name).id || 'system',
})

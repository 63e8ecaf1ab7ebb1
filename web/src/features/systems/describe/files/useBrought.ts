import { useState } from 'react'
import { type Schemas, sendFile } from '../../../../shared/api'
import { complete } from '../actions'
import { asText } from '../description'
import { type FileDescription, withFolder } from './fileDescription'

type Kind = Schemas['RecordKind']
export type Laid = { header: number; delimiter?: string | null; encoding?: string | null; kind: Kind }

/** What a file is taken for; how it is laid out is said where it was found out wrong. */
export function proposeFile(file: File, laid?: Laid) {
  const said = Object.entries(laid ?? {}).filter(([, v]) => v !== undefined && v !== null)
  const query = new URLSearchParams(said.map(([name, v]) => [name, String(v)]))
  return sendFile<Schemas['FileProposal']>(`/api/systems/propose/file?${query}`, file)
}

/** Reads a file as it is described. */
export const peekFile = (file: File, description: FileDescription, kind: Kind) =>
  sendFile<Schemas['PeekedList']>(`/api/systems/peek/file?kind=${kind}`, file, { document: asText(withFolder(complete(description))) })

export const bringFile = (system: string, kind: Kind, file: File) =>
  sendFile<Schemas['FileBrought']>(`/api/systems/${system}/files?kind=${kind}`, file)

export type Brought = ReturnType<typeof useBrought>

/** The files at hand while a system is described: looked at again and again, and taken in as its first once it is added. */
export function useBrought() {
  const [files, setFiles] = useState<Partial<Record<Kind, { file: File; columns: string[] }>>>({})
  return {
    of: (kind: Kind) => files[kind],
    keep: (kind: Kind, file: File, columns: string[]) => setFiles((f) => ({ ...f, [kind]: { file, columns } })),
    deliver: async (system: string, description: FileDescription) => {
      for (const { kind } of description.resources) {
        const at = files[kind]
        if (at) await bringFile(system, kind, at.file)
      }
    },
  }
}

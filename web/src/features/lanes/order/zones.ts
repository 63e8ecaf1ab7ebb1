import type { Schemas } from '../../../shared/api'

type Zone = Schemas['ShippingZone']

const codes = (text: string | undefined) =>
  (text ?? '')
    .split(/[\s,]+/)
    .map((c) => c.trim())
    .filter(Boolean)

/** Shipping zones as lines of a table: the country, what postcodes begin with, and after “not” what is left out. */
export const zonesText = (zones: Zone[]) =>
  zones.map((z) => [z.country, (z.prefixes ?? []).join(' '), (z.except ?? []).join(' ')].join('\t').trimEnd()).join('\n')

/** Reads zones as they are typed, or pasted from a spreadsheet: columns apart by tabs or semicolons. */
export const zonesOf = (text: string): Zone[] =>
  text
    .split('\n')
    .map((line) => line.split(/[\t;]/))
    .filter(([country]) => country?.trim())
    .map(([country, prefixes, except]) => ({
      country: (country as string).trim().toUpperCase(),
      prefixes: codes(prefixes),
      except: codes(except),
    }))

import type { Schemas } from './api'
import { shown } from './shown'

const numbers = new Intl.NumberFormat('en-IE')
const amounts = new Intl.NumberFormat('en-IE', { minimumFractionDigits: 2, maximumFractionDigits: 6 })

const formats: Partial<Record<Schemas['FieldType'], Intl.NumberFormat>> = {
  money: amounts,
  integer: numbers,
}

let zone = 'UTC'
/** All times on screen are in the workspace's zone. */
export function setZone(timeZone: string) {
  zone = timeZone
}

export const count = (n: number) => numbers.format(n)

/** A stored value as its field's type is read: amounts with two decimals, counts with their thousands apart. */
export function value(text: string | null | undefined, type: Schemas['FieldType'] = 'text') {
  if (text === null || text === undefined || text === '') return shown(text)
  const format = formats[type]
  const n = Number(text)
  return format && Number.isFinite(n) ? format.format(n).replace('-', '−') : shown(text)
}

/** How far a value moves, in its measure: a share to a tenth, anything else as it is. */
export function move(n: number | null | undefined, unit: string | null) {
  if (n === null || n === undefined) return ''
  const sign = n > 0 ? '+' : n < 0 ? '−' : ''
  const size = unit === '%' ? Math.abs(n).toFixed(1) : count(Math.abs(n))
  return unit === null ? `${sign}${size}` : `${sign}${size} ${unit}`
}

export function share(part: number, whole: number) {
  if (whole === 0) return '–'
  const percent = (part / whole) * 100
  // Nearly all is not all: 100 % is said only when it is true.
  return `${part === whole ? 100 : Math.min(99, Math.floor(percent))} %`
}

const parts = (options: Intl.DateTimeFormatOptions, at: string) =>
  new Intl.DateTimeFormat('en-IE', { ...options, timeZone: zone, hourCycle: 'h23' }).format(new Date(at))

export const clock = (at: string) => parts({ hour: '2-digit', minute: '2-digit' }, at)
export const clockSeconds = (at: string) => parts({ hour: '2-digit', minute: '2-digit', second: '2-digit' }, at)
export const day = (at: string) => parts({ day: 'numeric', month: 'long' }, at)

/** An instant in full, with the zone that its clock is in. */
export const at = (instant: string) =>
  `${parts({ weekday: 'short', day: 'numeric', month: 'long', year: 'numeric' }, instant)}, ${clock(instant)}, ${zone}`

/** Today as a time, other days with their date. */
export function when(at: string | null | undefined) {
  if (!at) return 'never'
  return day(at) === day(new Date().toISOString()) ? clock(at) : `${parts({ day: 'numeric', month: 'short' }, at)}, ${clock(at)}`
}

export function lasted(from: string, until: string | null | undefined) {
  if (!until) return ''
  const seconds = (Date.parse(until) - Date.parse(from)) / 1000
  return seconds < 60 ? `${seconds.toFixed(1)} s` : `${Math.floor(seconds / 60)} min ${Math.round(seconds % 60)} s`
}

export const every = (minutes: number) =>
  minutes % 60 === 0
    ? minutes === 60
      ? 'every hour'
      : `every ${minutes / 60} hours`
    : minutes === 1
      ? 'every minute'
      : `every ${minutes} minutes`

export const plural = (n: number, one: string, many = `${one}s`) => `${count(n)} ${n === 1 ? one : many}`

/** Words as the beginning of a sentence. */
export const sentence = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)

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

/** A day with its time. */
export const dayAndClock = (instant: string) => `${parts({ day: 'numeric', month: 'short' }, instant)}, ${clock(instant)}`

/** What a clock of the workspace shows at an instant, as a field for date and time takes it. */
export function shownOf(instant: string) {
  const local = new Intl.DateTimeFormat('sv-SE', { dateStyle: 'short', timeStyle: 'medium', timeZone: zone }).format(new Date(instant))
  return local.replace(' ', 'T').slice(0, 16)
}

/** The instant at which a clock of the workspace shows a date and time; of an hour that comes twice, one of them. */
export function instantOf(shown: string) {
  const asUtc = Date.parse(`${shown}Z`)
  const off = (at: number) => Date.parse(`${shownOf(new Date(at).toISOString())}Z`) - at
  // The first guess may lie on the other side of a change of the clocks.
  return new Date(asUtc - off(asUtc - off(asUtc))).toISOString()
}

/** Today as a time, other days with their date. */
export function when(at: string | null | undefined) {
  if (!at) return 'never'
  return day(at) === day(new Date().toISOString()) ? clock(at) : `${parts({ day: 'numeric', month: 'short' }, at)}, ${clock(at)}`
}

const units: [string, number][] = [
  ['day', 86_400],
  ['hour', 3_600],
  ['minute', 60],
]

/** How long something has been so, in its largest unit. */
export function age(since: string | null | undefined, now = Date.now()) {
  if (!since) return ''
  const seconds = (now - Date.parse(since)) / 1000
  const [unit, size] = units.find(([, s]) => seconds >= s) ?? ['', 0]
  return size === 0 ? 'just now' : plural(Math.floor(seconds / size), unit)
}

/** A length of time in seconds or minutes. */
export function milliseconds(ms: number) {
  const seconds = ms / 1000
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

import type { Schemas } from './api'
import { shown } from './shown'

type Kind = Schemas['LaneKind']

const numbers = new Intl.NumberFormat('en-IE')
const amounts = new Intl.NumberFormat('en-IE', { minimumFractionDigits: 2, maximumFractionDigits: 6 })

let zone = 'UTC'
/** All times on screen are in the workspace's zone. */
export function setZone(timeZone: string) {
  zone = timeZone
}

export const count = (n: number) => numbers.format(n)

/** A value of a rule: amounts with two decimals, pieces as they are. */
export function value(text: string | null | undefined, kind: Kind) {
  if (text === null || text === undefined) return '–'
  if (kind === 'correction' || kind === 'item') return shown(text)
  return kind === 'price' ? amounts.format(Number(text)).replace('-', '−') : count(Number(text)).replace('-', '−')
}

export function move(n: number | null | undefined, kind: Kind) {
  if (n === null || n === undefined) return ''
  const sign = n > 0 ? '+' : n < 0 ? '−' : ''
  return kind === 'price' ? `${sign}${Math.abs(n).toFixed(1)} %` : `${sign}${count(Math.abs(n))}`
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

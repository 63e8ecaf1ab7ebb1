import type { Schemas } from './api'
import { shown } from './shown'

export type Forms = {
  timeZone: string
  numbers: Schemas['NumberForm']
  dates: Schemas['DateForm']
  firstDay: Schemas['FirstDay']
}

// Each form is that of a locale; words stay English.
const numberLocales: Record<Forms['numbers'], string> = {
  point: 'en-IE',
  comma: 'de-DE',
  spaceComma: 'fr-FR',
  apostrophePoint: 'de-CH',
}
const dateLocales: Record<Forms['dates'], string> = {
  dayFirst: 'en-IE',
  monthFirst: 'en-US',
  dots: 'de-DE',
  slashes: 'en-GB',
  yearFirst: 'sv-SE',
}

const numbersIn = (form: Forms['numbers']) => {
  const format = (options?: Intl.NumberFormatOptions) => new Intl.NumberFormat(numberLocales[form], options)
  const integer = format()
  const money = format({ minimumFractionDigits: 2, maximumFractionDigits: 6 })
  return { integer, tenth: format({ minimumFractionDigits: 1, maximumFractionDigits: 1 }), money }
}

let forms: Forms = { timeZone: 'UTC', numbers: 'point', dates: 'dayFirst', firstDay: 'monday' }
let numbers = numbersIn(forms.numbers)

/** All times, dates and numbers on screen are as the workspace has them. */
export function setForms(to: Forms) {
  if (to.numbers !== forms.numbers) numbers = numbersIn(to.numbers)
  forms = to
}

export const count = (n: number) => numbers.integer.format(n)

/** A stored value as its field's type is read: amounts with two decimals, counts with their thousands apart. */
export function value(text: string | null | undefined, type: Schemas['FieldType'] = 'text') {
  if (text === null || text === undefined || text === '') return shown(text)
  const format = type === 'money' || type === 'integer' ? numbers[type] : undefined
  const n = Number(text)
  return format && Number.isFinite(n) ? format.format(n).replace('-', '−') : shown(text)
}

type Amount = Schemas['Amount']

/** Money with its currency. */
export const money = ({ sum, currency }: Amount) => `${value(String(sum), 'money')} ${currency}`.trimEnd()

/** Money of several currencies, each by itself: they are never added up. */
export const worth = (amounts: Amount[]) => amounts.map(money).join(' and ')

/** How far a value moves, in its measure: a share to a tenth, anything else as it is. */
export function move(n: number | null | undefined, unit: string | null) {
  if (n === null || n === undefined) return ''
  const sign = n > 0 ? '+' : n < 0 ? '−' : ''
  const size = unit === '%' ? numbers.tenth.format(Math.abs(n)) : count(Math.abs(n))
  return unit === null ? `${sign}${size}` : `${sign}${size} ${unit}`
}

export function share(part: number, whole: number) {
  if (whole === 0) return '–'
  const percent = (part / whole) * 100
  // Nearly all is not all: 100 % is said only when it is true.
  return `${part === whole ? 100 : Math.min(99, Math.floor(percent))} %`
}

/** The same to a hundredth, rounded down. */
export function exactShare(part: number, whole: number) {
  if (whole === 0) return '–'
  return part === whole ? '100 %' : `${numbers.money.format(Math.floor((part / whole) * 10_000) / 100)} %`
}

const parts = (options: Intl.DateTimeFormatOptions, at: string, locale = 'en-IE') =>
  new Intl.DateTimeFormat(locale, { ...options, timeZone: forms.timeZone, hourCycle: 'h23' }).format(new Date(at))

/** A day in the workspace's form; where that has figures only, they are as many each day. */
function date(at: string, month: 'short' | 'long', year?: 'numeric') {
  const { dates } = forms
  const named = dates === 'dayFirst' || dates === 'monthFirst'
  const figures = { day: '2-digit', month: '2-digit', year: dates === 'yearFirst' ? 'numeric' : year } as const
  return parts(named ? { day: 'numeric', month, year } : figures, at, dateLocales[dates])
}

export const clock = (at: string) => parts({ hour: '2-digit', minute: '2-digit' }, at)
export const clockSeconds = (at: string) => parts({ hour: '2-digit', minute: '2-digit', second: '2-digit' }, at)
export const day = (at: string) => date(at, 'long')

/** An instant in full, with the zone that its clock is in. */
export const at = (instant: string) =>
  `${parts({ weekday: 'short' }, instant)}, ${date(instant, 'long', 'numeric')}, ${clock(instant)}, ${forms.timeZone}`

/** A day with its time. */
export const dayAndClock = (instant: string) => `${date(instant, 'short')}, ${clock(instant)}`

/** What a clock of the workspace shows at an instant, as a field for date and time takes it. */
export function shownOf(instant: string) {
  const local = new Intl.DateTimeFormat('sv-SE', { dateStyle: 'short', timeStyle: 'medium', timeZone: forms.timeZone }).format(
    new Date(instant),
  )
  return local.replace(' ', 'T').slice(0, 16)
}

/** The instant at which a clock of the workspace shows a date and time; of an hour that comes twice, one of them. */
export function instantOf(shown: string) {
  const asUtc = Date.parse(`${shown}Z`)
  const off = (at: number) => Date.parse(`${shownOf(new Date(at).toISOString())}Z`) - at
  // The first guess may lie on the other side of a change of the clocks.
  return new Date(asUtc - off(asUtc - off(asUtc))).toISOString()
}

/** The first instant of the day on which an instant lies, or of one so many days later, by the workspace's clocks. */
export function startOfDay(instant: string, later = 0) {
  const shown = new Date(`${shownOf(instant).slice(0, 10)}T00:00Z`)
  shown.setUTCDate(shown.getUTCDate() + later)
  return instantOf(shown.toISOString().slice(0, 16))
}

/** The first instant of the week in which an instant lies, or of one so many weeks later. */
export function startOfWeek(instant: string, later = 0) {
  const first = { sunday: 0, monday: 1, saturday: 6 }[forms.firstDay]
  const day = new Date(`${shownOf(instant).slice(0, 10)}T00:00Z`).getUTCDay()
  return startOfDay(instant, later * 7 - ((day - first + 7) % 7))
}

/** Today as a time, other days with their date. */
export function when(at: string | null | undefined) {
  if (!at) return 'never'
  return day(at) === day(new Date().toISOString()) ? clock(at) : dayAndClock(at)
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
  return seconds < 60 ? `${numbers.tenth.format(seconds)} s` : `${Math.floor(seconds / 60)} min ${Math.round(seconds % 60)} s`
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

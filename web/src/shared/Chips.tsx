import { count } from './format'

/** Filters with what each would show; the count is the way to the records. */
export function Chips<K extends string>(props: {
  label: string
  chosen: K
  choose: (key: K) => void
  chips: { key: K; text: string; count: number; always?: boolean }[]
  slim?: boolean
}) {
  return (
    <fieldset className="row wrap" style={{ border: 0, margin: 0, padding: 0, gap: 8 }} aria-label={props.label}>
      {props.chips
        .filter((c) => c.count > 0 || c.always || c.key === props.chosen)
        .map((c) => (
          <button
            key={c.key}
            type="button"
            className={props.slim ? 'chip slim' : 'chip'}
            aria-pressed={props.chosen === c.key}
            onClick={() => props.choose(c.key)}
          >
            {c.text} {count(c.count)}
          </button>
        ))}
    </fieldset>
  )
}

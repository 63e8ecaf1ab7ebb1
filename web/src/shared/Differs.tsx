import { difference, shortLead } from './difference'

/**
 * A text beside another one, with what differs marked; what both share before it is cut where there is no room. The whole text is told
 * to whoever asks.
 */
export function Differs(props: { text: string | null | undefined; beside: string | null | undefined; old?: boolean; whole?: boolean }) {
  const d = difference(props.text, props.beside)
  if (d.one === '' && d.other === '') return <>{d.lead}</>
  return (
    <span title={`${d.lead}${d.one}${d.tail}`} className={props.old ? 'old' : undefined}>
      {props.whole ? d.lead : shortLead(d.lead)}
      {d.one && <mark>{d.one}</mark>}
      {d.tail}
    </span>
  )
}

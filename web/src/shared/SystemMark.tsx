import type { SystemTag } from './api'

const tints = ['#2b5d9b', '#7a3e85', '#2c7a5e', '#85540c', '#3d566e', '#a03c5a']
const darkTints = ['#8db8ee', '#cf9fdb', '#7ccbae', '#dcae62', '#a9bfd3', '#ea9bb4']

/** The same letters always get the same tint, so a system looks the same on every page. */
function tint(mark: string) {
  const known: Record<string, number> = { BO: 0, WS: 1, TP: 2, CM: 3, QT: 4, NM: 5 }
  const i = known[mark] ?? (mark.charCodeAt(0) * 7 + mark.charCodeAt(1)) % tints.length
  return `light-dark(${tints[i]}, ${darkTints[i]})`
}

const outline = (kind: SystemTag['kind']) =>
  kind === 'supplier' ? 'double' : kind === 'erp' || kind === 'pointOfSale' ? 'square' : 'round'

/** Two letters in the system's own tint; the outline tells the kind. Stands near every value of that system. */
export function SystemMark({ system }: { system: Pick<SystemTag, 'mark' | 'name' | 'kind'> }) {
  return (
    <span className={`mark ${outline(system.kind)}`} style={{ '--tint': tint(system.mark) } as React.CSSProperties} title={system.name}>
      {system.mark}
    </span>
  )
}

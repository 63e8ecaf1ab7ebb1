import { useQuery } from '@tanstack/react-query'
import { Link } from '@tanstack/react-router'
import { count, when } from '../../shared/format'
import { queries } from '../../shared/queries'
import { Empty, Loaded } from '../../shared/states'
import type { System } from './SystemsPage'

/** How the system was described, version by version; an earlier one is looked at, and put back, where it is edited. */
export function Versions({ system }: { system: System }) {
  const versions = useQuery(queries.descriptionVersions(system.id, system.revision))
  return (
    <Loaded of={versions}>
      {(all) =>
        all.length === 0 ? (
          <Empty title="No version yet">The first is written down when its description is saved next.</Empty>
        ) : (
          <ul className="sheet" style={{ listStyle: 'none', margin: 0, padding: 0 }} aria-label="Versions of its description">
            {all.map((version, i) => (
              <li key={version.number} className="line" style={{ gridTemplateColumns: '110px 1fr 170px 150px' }}>
                <span>version {version.number}</span>
                <span className="dim">
                  {version.author}, {when(version.at)}
                </span>
                <span className="small">
                  {count(version.added)} lines new, {count(version.removed)} gone
                </span>
                {i === 0 ? (
                  <span className="tag glaze">in force</span>
                ) : (
                  <Link
                    className="act"
                    to="/systems/$system/describe"
                    params={{ system: system.id }}
                    search={{ row: String(version.number) }}
                  >
                    Look at version {version.number}
                  </Link>
                )}
              </li>
            ))}
          </ul>
        )
      }
    </Loaded>
  )
}

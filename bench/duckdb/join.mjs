// The same comparison as "./narbit preview", by a full outer join: node join.mjs left.csv right.csv out.csv
import { DuckDBInstance } from '@duckdb/node-api'

const [left, right, out] = process.argv.slice(2)
const quoted = (text) => `'${text.replaceAll("'", "''")}'`
const instance = await DuckDBInstance.create(':memory:')
const connection = await instance.connect()
const read = (file) => `read_csv(${quoted(file)}, header = true, all_varchar = true)`
const columns = (await connection.runAndReadAll(`DESCRIBE SELECT * FROM ${read(left)}`)).getRows().map((r) => r[0])
const [key, ...fields] = columns
const changed = fields
  .map(
    (f) => `SELECT 'change', coalesce(l_${key}, r_${key}), '${f}', r_${f}, l_${f}, 'the source owns it'
            FROM joined WHERE l_${key} IS NOT NULL AND r_${key} IS NOT NULL AND l_${f} IS DISTINCT FROM r_${f}`,
  )
  .join(' UNION ALL ')
const side = (letter) => columns.map((c) => `${letter}.${c} AS ${letter}_${c}`).join(', ')
await connection.run(`
  COPY (
    WITH joined AS MATERIALIZED (SELECT ${side('l')}, ${side('r')} FROM ${read(left)} l FULL OUTER JOIN ${read(right)} r ON l.${key} = r.${key})
    SELECT * FROM (${changed}) AS c(kind, key, field, old, new, reason)
    UNION ALL ${fields.map((f) => `SELECT 'new', l_${key}, '${f}', NULL, l_${f}, 'it is new there' FROM joined WHERE r_${key} IS NULL AND l_${f} IS NOT NULL`).join(' UNION ALL ')}
    UNION ALL SELECT 'gone', r_${key}, '', NULL, NULL, 'it is on the right alone; the lane leaves it' FROM joined WHERE l_${key} IS NULL
  ) TO ${quoted(out)} (HEADER, DELIMITER ',')`)
connection.closeSync()

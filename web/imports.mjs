// Imports go downwards only: app may use features and shared, a feature uses shared and nothing of another, shared uses nothing of the two;
// and no file comes round to itself. Ends with 1 and every breach where one is found.
import { readdirSync, readFileSync, statSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'

const root = join(import.meta.dirname, 'src')
const files = readdirSync(root, { recursive: true })
  .filter((f) => /\.tsx?$/.test(f))
  .map((f) => join(root, f))

const resolve = (from, path) =>
  ['.ts', '.tsx', '/index.ts'].map((end) => join(dirname(from), path) + end).find((f) => statSync(f, { throwIfNoEntry: false })?.isFile())
const imports = new Map(
  files.map((f) => [
    f,
    [...readFileSync(f, 'utf8').matchAll(/from '(\.[^']+)'/g)].map((m) => resolve(f, m[1])).filter((to) => to !== undefined),
  ]),
)

const layers = { shared: 0, api: 0, theme: 0, features: 1, app: 2, 'main.tsx': 3 }
const name = (file) => relative(root, file)
const layer = (file) => layers[name(file).split('/')[0]]
const breaches = []
for (const [from, tos] of imports)
  for (const to of tos) if (layer(to) > layer(from)) breaches.push(`${name(from)} imports ${name(to)}, which stands above it`)

const feature = (file) => (layer(file) === 1 ? name(file).split('/')[1] : undefined)
for (const [from, tos] of imports)
  for (const to of tos)
    if (feature(from) && feature(to) && feature(from) !== feature(to)) breaches.push(`${name(from)} imports ${name(to)} of another feature`)

const state = new Map()
const visit = (file, path) => {
  if (state.get(file) === 'done') return
  if (state.get(file) === 'open') {
    breaches.push(`a circle: ${[...path.slice(path.indexOf(file)), file].map(name).join(' → ')}`)
    return
  }
  state.set(file, 'open')
  for (const to of imports.get(file) ?? []) visit(to, [...path, file])
  state.set(file, 'done')
}
for (const file of files) visit(file, [])

// What is asked of the API, and under which key it is kept, stands in one place.
for (const file of files)
  if (layer(file) > 0 && /queryKey: \[|queryFn:/.test(readFileSync(file, 'utf8')))
    breaches.push(`${name(file)} asks for itself; see shared/queries.ts`)

for (const breach of breaches) console.error(breach)
console.log(`${files.length} files, ${breaches.length} breaches`)
process.exit(breaches.length > 0 ? 1 : 0)

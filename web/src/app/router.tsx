import { createRootRoute, createRoute, createRouter } from '@tanstack/react-router'
import { ExposurePage } from '../features/items/ExposurePage'
import { HistoryPage } from '../features/items/HistoryPage'
import { ItemPage } from '../features/items/ItemPage'
import { SyncedPage } from '../features/items/SyncedPage'
import { FirstStep } from '../features/lanes/FirstStep'
import { GuardsStep } from '../features/lanes/GuardsStep'
import { LanePage } from '../features/lanes/LanePage'
import { LanesPage } from '../features/lanes/LanesPage'
import { CrosswalksStep } from '../features/lanes/map/CrosswalksStep'
import { MapStep } from '../features/lanes/map/MapStep'
import { PairsStep } from '../features/lanes/PairsStep'
import { RuleStep } from '../features/lanes/RuleStep'
import { ScopeStep } from '../features/lanes/ScopeStep'
import { TimetableStep } from '../features/lanes/TimetableStep'
import { VersionsStep } from '../features/lanes/VersionsStep'
import { MismatchesPage } from '../features/mismatches/MismatchesPage'
import { OrderPage } from '../features/orders/OrderPage'
import { OrdersPage } from '../features/orders/OrdersPage'
import { CouplePage } from '../features/pairs/CouplePage'
import { CouplesPage } from '../features/pairs/CouplesPage'
import { ProofPage } from '../features/proofs/ProofPage'
import { ProofsPage } from '../features/proofs/ProofsPage'
import { PreviewStep } from '../features/runs/PreviewStep'
import { RunPage } from '../features/runs/RunPage'
import { RunsPage } from '../features/runs/RunsPage'
import { RunsStep } from '../features/runs/RunsStep'
import { WrittenPage } from '../features/runs/WrittenPage'
import { SettingsPage } from '../features/settings/SettingsPage'
import { TellingPage } from '../features/settings/Telling'
import { DescribePage, EditDescriptionPage } from '../features/systems/describe/DescribePage'
import { GrantedPage } from '../features/systems/GrantedPage'
import { SystemPage } from '../features/systems/SystemPage'
import { SystemsPage } from '../features/systems/SystemsPage'
import { NewJobPage } from '../features/timetable/JobForm'
import { JobPage } from '../features/timetable/JobPage'
import { TimetablePage } from '../features/timetable/TimetablePage'
import { type Page, readView } from '../shared/listState'
import { FirstPage } from './FirstPage'
import { HelpPage } from './HelpPage'
import { Shell } from './Shell'

const root = createRootRoute({
  component: Shell,
  notFoundComponent: () => (
    <div className="page">
      <h1 style={{ fontSize: 22, margin: 0 }}>There is nothing at this address</h1>
      <span className="dim">The link may be old. The rail on the left leads everywhere.</span>
    </div>
  ),
})
const page = <P extends Page>(path: P, component: () => React.ReactNode) =>
  createRoute({ getParentRoute: () => root, path, component, validateSearch: readView(path) })

const lane = createRoute({ getParentRoute: () => root, path: '/lanes/$lane', component: LanePage })
type Step = Page extends infer P ? (P extends `/lanes/$lane/${infer S}` ? S : never) : never
const step = <P extends Step>(path: P, component: () => React.ReactNode) =>
  createRoute({ getParentRoute: () => lane, path, component, validateSearch: readView<`/lanes/$lane/${P}`>(`/lanes/$lane/${path}`) })

const routes = root.addChildren([
  page('/', FirstPage),
  page('/systems', SystemsPage),
  page('/systems/new', DescribePage),
  page('/granted', GrantedPage),
  page('/systems/$system', SystemPage),
  page('/systems/$system/describe', EditDescriptionPage),
  page('/systems/$system/records/$key', HistoryPage),
  page('/synced', SyncedPage),
  page('/exposure', ExposurePage),
  page('/mismatches', MismatchesPage),
  page('/proof', ProofsPage),
  page('/proof/$proof', ProofPage),
  page('/orders', OrdersPage),
  page('/orders/$lane/$order', OrderPage),
  page('/lanes', LanesPage),
  lane.addChildren([
    createRoute({ getParentRoute: () => lane, path: '/', component: FirstStep }),
    step('scope', ScopeStep),
    step('pairs', PairsStep),
    step('rule', RuleStep),
    step('map', MapStep),
    step('crosswalks', CrosswalksStep),
    step('guards', GuardsStep),
    step('preview', PreviewStep),
    step('timetable', TimetableStep),
    step('runs', RunsStep),
    step('versions', VersionsStep),
  ]),
  page('/pair-desk', CouplesPage),
  page('/pair-desk/$couple', CouplePage),
  page('/items/$item', ItemPage),
  page('/timetable', TimetablePage),
  page('/timetable/new', NewJobPage),
  page('/timetable/$job', JobPage),
  page('/runs', RunsPage),
  page('/runs/$run', RunPage),
  page('/written', WrittenPage),
  page('/settings', SettingsPage),
  page('/settings/told', TellingPage),
  page('/help', HelpPage),
])

export const router = createRouter({ routeTree: routes, defaultPreload: false })

declare module '@tanstack/react-router' {
  interface Register {
    router: typeof router
  }
}

import { Begin, NextSteps } from '../features/settings/Begin'
import { TodayPage } from '../features/today/TodayPage'
import { Loaded } from '../shared/states'
import { useToday } from '../shared/today'

/** An empty workspace begins with its settings; any other with today. */
export function FirstPage() {
  const today = useToday()
  return (
    <Loaded of={today}>
      {(data) => {
        if (data.workspace.name === null) return <Begin />
        const lanes = data.rows.reduce((sum, r) => sum + r.lanes.length, 0)
        const next = <NextSteps hub={data.workspace.hub !== null} systems={data.systems.length} lanes={lanes} />
        return <TodayPage today={data} next={next} />
      }}
    </Loaded>
  )
}

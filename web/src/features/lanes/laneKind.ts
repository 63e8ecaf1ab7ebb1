import type { ComponentType } from 'react'
import type { Choices } from './draft'

/** What the pages of a lane need to know of what it does. Its steps, words and limits come with the lane itself. */
export type LaneKind = {
  /** What it takes, beside what is asked of every lane. */
  Scope?: ComponentType
  /** The form of its rule. */
  Form?: ComponentType<{ choices: Choices }>
  /** What the rule on trial would do; without one, what becomes of its values. */
  Effect?: ComponentType
  /** How many pixels the effect takes beside the form; without it, some two fifths. */
  effectWidth?: number
}

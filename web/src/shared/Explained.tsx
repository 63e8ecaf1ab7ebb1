import { Tooltip } from '@mantine/core'
import type { ReactNode } from 'react'
import { type Word, words } from './words'

/** A word with its explanation in place: on hover, on focus, and for screen readers. */
export function Explained({ word, children }: { word: Word; children?: ReactNode }) {
  return (
    <Tooltip label={words[word]} multiline w={280} withArrow events={{ hover: true, focus: true, touch: true }}>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: the explanation is there for the keyboard too */}
      <span className="explained" tabIndex={0}>
        {children ?? word}
      </span>
    </Tooltip>
  )
}

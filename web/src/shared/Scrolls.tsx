import type { CSSProperties, ReactNode } from 'react'

/** A part that scrolls by itself; the keyboard can go there and scroll it. */
export function Scrolls({ label, style, children }: { label: string; style?: CSSProperties; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable without a mouse
    <section className="scrolls" aria-label={label} tabIndex={0} style={style}>
      {children}
    </section>
  )
}

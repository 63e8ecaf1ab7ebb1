import { useEffect, useState } from 'react'

/** The time, every few seconds; not before what the server said. */
export function useNow(said: string) {
  const [now, setNow] = useState(() => Date.now())
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 5_000)
    return () => clearInterval(timer)
  }, [])
  return Math.max(now, Date.parse(said))
}

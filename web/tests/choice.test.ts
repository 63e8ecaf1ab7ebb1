import { describe, expect, it } from 'vitest'
import {
  add,
  asked,
  type Choosing,
  chosenCount,
  everything,
  has,
  isWhole,
  nothing,
  only,
  toggle,
  without,
} from '../src/features/runs/choice'

const planned = (id: number) => ({ id, state: 'planned' as const, guards: '' })
const held = (id: number) => ({ id, state: 'held' as const, guards: '' })
const guarded = (id: number) => ({ id, state: 'planned' as const, guards: 'priceMove' })
const left = (id: number) => ({ id, state: 'skipped' as const, guards: '' })
const these = (...plain: number[]) => ({ plain, byName: [] })
const total = 10

describe('the choice of a change set', () => {
  it('begins with all that is planned and nothing that is held', () => {
    expect(chosenCount(everything, total)).toBe(10)
    expect(isWhole(everything, total)).toBe(true)
    expect(has(everything, planned(3))).toBe(true)
    expect(has(everything, held(4))).toBe(false)
    expect(asked(everything, true)).toEqual({ all: true, except: [], only: [], withoutGuarded: true })
  })

  it('leaves a line out and takes it in again', () => {
    const less = toggle(everything, planned(3))
    expect(has(less, planned(3))).toBe(false)
    expect(chosenCount(less, total)).toBe(9)
    expect(asked(less, true).except).toEqual([3])
    expect(toggle(less, planned(3))).toEqual(everything)
  })

  it('begins anew with nothing, from where some are chosen one by one', () => {
    expect(chosenCount(nothing, total)).toBe(0)
    const two = toggle(toggle(nothing, planned(3)), planned(7))
    expect([has(two, planned(3)), has(two, planned(4)), chosenCount(two, total)]).toEqual([true, false, 2])
    expect(asked(two, true)).toEqual({ all: false, except: null, only: [3, 7], withoutGuarded: false })
  })

  it('sends what is held only where it is named', () => {
    const with4 = toggle(everything, held(4))
    expect(chosenCount(with4, total)).toBe(11)
    expect(isWhole(with4, total)).toBe(false)
    expect(asked(with4, true)).toEqual({ all: true, except: [], only: [4], withoutGuarded: true })
  })

  it('sends what a guard points at, or was not chosen the last time, only where it is named', () => {
    for (const line of [guarded(5), left(5)]) {
      expect(has(everything, line)).toBe(false)
      const named = toggle(everything, line)
      expect(has(named, line)).toBe(true)
      expect(asked(named, true)).toEqual({ all: true, except: [], only: [5], withoutGuarded: true })
      expect(asked(named, false).only).toEqual([5])
    }
    const shown = { plain: [1], byName: [5, 6] }
    expect(asked(only(shown), true).only).toEqual([1, 5, 6])
    expect(chosenCount(add(everything, shown), total)).toBe(12)
    expect(chosenCount(without(add(everything, shown), shown), total)).toBe(9)
  })

  it('never chooses what is sent, failed or decided already', () => {
    for (const state of ['sent', 'confirmed', 'failed', 'unknown', 'overtaken'] as const) {
      expect(has(everything, { id: 1, state, guards: '' })).toBe(false)
      expect(toggle(everything, { id: 1, state, guards: '' })).toBe(everything)
    }
  })

  it('narrows to what is shown, and widens again', () => {
    const some = only(these(1, 2))
    expect(chosenCount(some, total)).toBe(2)
    expect(has(some, planned(1))).toBe(true)
    expect(has(some, planned(3))).toBe(false)
    expect(chosenCount(add(some, these(2, 3)), total)).toBe(3)
    expect(chosenCount(without(some, these(2)), total)).toBe(1)
    expect(asked(some, true)).toEqual({ all: false, except: null, only: [1, 2], withoutGuarded: false })
  })

  it('of all, leaves out and takes in by exceptions', () => {
    const most = without(everything, these(1, 2, 3))
    expect(chosenCount(most, total)).toBe(7)
    expect(chosenCount(add(most, these(2)), total)).toBe(8)
    expect(asked(add(most, these(2)), true).except).toEqual([1, 3])
  })

  it('of a run that is done sends nothing but what it had held', () => {
    const choosing = toggle(without(everything, these(1)), held(4))
    expect(chosenCount(choosing, 0)).toBe(1)
    expect(asked(choosing, false)).toEqual({ all: false, except: null, only: [4], withoutGuarded: false })
  })

  it('counts what it says it would send, whatever was done before', () => {
    // Every way through three acts over three lines: what is counted is what is chosen is what is asked for.
    const lines = [1, 2, 3]
    const acts = lines.flatMap((id) => [
      (c: Choosing) => toggle(c, planned(id)),
      (c: Choosing) => add(c, these(id)),
      (c: Choosing) => without(c, these(id)),
      () => only(these(id)),
    ])
    for (const a of acts)
      for (const b of acts)
        for (const c of acts) {
          const choosing = c(b(a(everything)))
          const chosen = lines.filter((id) => has(choosing, planned(id)))
          const { all, except, only: named } = asked(choosing, true)
          expect(chosenCount(choosing, lines.length)).toBe(chosen.length)
          expect(all ? lines.filter((id) => !except?.includes(id)) : [...(named ?? [])].sort()).toEqual(chosen)
        }
  })
})

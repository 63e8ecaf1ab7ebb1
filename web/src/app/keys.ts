/** The keys of a page: those that work everywhere, and its own. */
export type Keys = [key: string, what: string][]

const everywhere: Keys = [
  ['Ctrl K', 'find anything or do anything'],
  ['g t', 'go to Today'],
  ['g s', 'go to Systems'],
  ['g p', 'go to the pair desk'],
  ['g l', 'go to Lanes'],
  ['g r', 'go to Runs'],
  ['g w', 'go to What is synced'],
  ['g o', 'go to Orders'],
  ['g m', 'go to Mismatches'],
  ['g j', 'go to the timetable of jobs'],
  ['?', 'this list'],
]

const list: Keys = [
  ['/', 'search in this list'],
  ['j k', 'next and previous row'],
]

const desk: Keys = [
  ['j k', 'next and previous record'],
  ['[ ]', 'previous and next sort: likely, ambiguous, none, certain …'],
  ['a', 'accept'],
  ['n b 1–5', 'next, previous, or that candidate'],
  ['x', 'set aside'],
  ['h', 'make a kit'],
  ['c', 'create there'],
  ['d', 'unpair, or take a set-aside back'],
  ['u', 'undo the last decision'],
  ['A X', 'accept, or set aside, all that is shown'],
  ['v', 'review and commit'],
  ['Ctrl Enter', 'in the review: commit'],
]

const mismatches: Keys = [
  ['j k', 'next and previous record'],
  ['[ ]', 'previous and next cause'],
  ['a', 'take the way out'],
  ['A', 'show all that are alike; once more: the same for them'],
  ['d', 'put off until tomorrow'],
  ['n', 'remark'],
  ['e', 'settled elsewhere, or as it should be'],
  ['h', 'decide it by hand, where it is'],
  ['u', 'undo what was done last'],
  ['/', 'search in this list'],
]

const pages: [RegExp, string, Keys][] = [
  [/^\/pair-desk\/\d/, 'the pair desk', desk],
  [/^\/mismatches/, 'the mismatch desk', mismatches],
  [/^\/lanes\/[^/]+\/preview/, 'a change set', [...list, ['Space', 'choose the line, or leave it out']]],
  [/^\/runs\/\d/, 'a run', [...list, ['Space', 'choose the line, or leave it out']]],
  [
    /^\/lanes\/[^/]+\/map/,
    'a field map',
    [
      ['j k', 'next and previous field'],
      ['s', 'accept the suggestion'],
      ['S', 'accept all suggestions'],
    ],
  ],
  [/^\/(timetable|runs|written|synced|exposure|orders|lanes\/[^/]+\/(pairs|runs)|systems\/)/, 'this list', list],
]

/** What a page's own keys do, under its name; and the keys that work everywhere. */
export function keysOf(path: string): { name: string | null; own: Keys; everywhere: Keys } {
  const page = pages.find(([at]) => at.test(path))
  return { name: page?.[1] ?? null, own: page?.[2] ?? [], everywhere }
}

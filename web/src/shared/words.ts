/** What the words mean that people asked about; shown where the word stands, and found by its name. */
export const words = {
  'in step': 'The two sides hold the same, or a person decided that what is there counts.',
  held: 'Looks wrong, or was changed on both sides. It is not sent by itself: a person chooses it, or puts right what is behind it.',
  guarded: 'One of the guards points at this line. It is sent only when somebody chooses it by name.',
  guard: 'A limit that stops a run before its first write and asks a person, e.g. when prices would move too far.',
  'would change': 'The comparison found another value than the other side holds; nothing of it is sent yet.',
  'not chosen': 'It differed when the rest was sent, and was left out. It still differs and can be sent any time.',
  'not computed': 'No value could be worked out for it, e.g. because it has no price. The reason stands beside it.',
  'did not get there': 'It was sent, and the other side refused it, lost it, or had changed meanwhile.',
  'taken back': 'It was written, and a later run put the old value back.',
  none: 'No record on the other side is like it. Pair it by hand, create it there, or set it aside.',
  likely: 'One record on the other side fits well, but not beyond doubt: a look decides.',
  ambiguous: 'Several records on the other side fit equally well: choose the right one.',
  certain: 'A barcode or SKU says it beyond doubt, and nothing speaks against it.',
  exposure: 'By how many pieces all stores together promise more than there is, if all of them sold out before the next run.',
  available: 'On hand less what is allocated to orders, over all locations; never below zero.',
  share: 'The part of the available stock that this store may offer; what is left is kept for the others.',
  'hold back': 'So many pieces are never offered, so that a miscount or a late sale does no harm.',
  draft: 'What you changed and have not saved. It is kept for you until you save it or throw it away.',
  version: 'A saved form of a rule or map. Each run says by which one it computed; any can be restored.',
  mismatch:
    'A record that needs a person, for one cause. It is one, whatever number of runs sees it, and closes by itself when it is gone.',
  'way out': 'What would settle a mismatch, as far as it can be computed, and why; it goes the same way as if you had done it by hand.',
  'proof of step': 'A full compare of every lane with both sides read afresh. It says what is in step, changed there, or mistaken.',
  'believed wrongly':
    'Narbit took another value for granted than the system had, and the system, asked what had changed, did not tell of it.',
  crosswalk: 'A table that translates codes of one side to those of the other, e.g. categories.',
} as const

export type Word = keyof typeof words

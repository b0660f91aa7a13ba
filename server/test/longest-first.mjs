import Sequencer from '@jest/test-sequencer'

/** What takes longest: begun last it would run alone, where no run before told how long each takes. */
const LONGEST = ['core/hostile/lengths.test.ts', 'server/test/path.test.ts', 'server/test/crash.test.ts']
const rank = ({ path }) => LONGEST.findIndex(l => path.endsWith(l)) + 1 || LONGEST.length + 1

/** Begins the longest tests first; all others as the runner has them. */
export default class LongestFirst extends Sequencer {
  sort(tests) {
    return super.sort(tests).toSorted((a, b) => rank(a) - rank(b))
  }
}

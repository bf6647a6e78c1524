import Sequencer from '@jest/test-sequencer';

/**
 * What takes longest, first: begun last, one of these would run alone at the end. On a fresh clone Jest knows
 * nothing of earlier runs and goes by the size of files.
 */
const LONG = [
  'cli.test',
  'build.test',
  'e2e/match.test',
  'recovery.test',
  'e2e/keeping.test',
  'api.test',
  'start.test',
  'madeTones.test',
  'ownFile.test',
  'listeningDistance.test',
  'match.test',
  'cues.test',
  'bandlimitedTable.test',
  'effectChain.test',
  'evenedLevel.test',
];

const rankOf = ({ path }) => {
  const at = LONG.findIndex((name) => path.includes(name));
  return at < 0 ? LONG.length : at;
};

export default class LongestFirst extends Sequencer {
  async sort(tests) {
    const sorted = await super.sort(tests);
    return [...sorted].sort((a, b) => rankOf(a) - rankOf(b));
  }
}

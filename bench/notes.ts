import { fitContour } from '../packages/core/src/reading/level/fitContour';
import { measureLevel } from '../packages/core/src/reading/level/levelContour';
import { findFundamental } from '../packages/core/src/reading/pitch/fundamental';
import { findNotes } from '../packages/core/src/reading/notes/notes';
import { trackPitch } from '../packages/core/src/reading/pitch/pitchTrack';
import { readTone } from '@imprint/core/reading/read';
import { playLine, programs, repeatingLine } from '../packages/core/test/soundBank';
import { LINE_RATE_HZ, type Line, chords, lines, renderLine, scoreNotes } from '../packages/core/test/lines';

/** Seeds that no threshold was chosen by. */
const UNSEEN = 100;
const DRUMS_DB = -3;

/** Prints the F-measures of lines and chords, by formula and of a sound bank, alone and under drums. */
export function notes(): void {
  bankLines();
  for (const drumsDb of [undefined, DRUMS_DB]) {
    const where = drumsDb === undefined ? 'alone' : `under drums of ${drumsDb} dB`;
    const scores = [...lines, ...chords].map((line) => {
      const { precision, recall, f } = scoreOf({ ...line, seed: line.seed + UNSEEN, drumsDb });
      console.log(
        `notes ${where}, ${line.name.padEnd(26)}: precision ${precision.toFixed(2)}, recall ${recall.toFixed(2)}, F ${f.toFixed(3)}`,
      );
      return f;
    });
    console.log(`notes ${where}: mean F ${(scores.reduce((a, b) => a + b) / scores.length).toFixed(3)}`);
  }
}

/** Lines whose notes repeat, by every program of the bank: read as a cut is. */
function bankLines(): void {
  for (const drumsDb of [undefined, DRUMS_DB]) {
    const where = drumsDb === undefined ? 'alone' : `under drums of ${drumsDb} dB`;
    const scores = programs.map((program, i) => {
      const line = repeatingLine(program, UNSEEN + i);
      const { precision, recall, f } = scoreNotes(readTone(playLine(line, drumsDb)).notes, line.notes);
      console.log(
        `bank ${where}, ${program.role} ${program.name.padEnd(16)}: precision ${precision.toFixed(2)}, recall ${recall.toFixed(2)}, F ${f.toFixed(3)}`,
      );
      return { role: program.role, f };
    });
    for (const role of ['bass', 'lead', 'pad', 'pluck']) {
      const own = scores.filter((score) => score.role === role);
      console.log(
        `bank ${where}: mean F of ${role} ${(own.reduce((sum, { f }) => sum + f, 0) / own.length).toFixed(3)}`,
      );
    }
    console.log(`bank ${where}: mean F ${(scores.reduce((sum, { f }) => sum + f, 0) / scores.length).toFixed(3)}`);
  }
}

function scoreOf(line: Line) {
  const { audio, notes: wanted } = renderLine(line);
  const mono = Float64Array.from(audio);
  const track = trackPitch(mono, LINE_RATE_HZ);
  const fundamental = findFundamental(mono, LINE_RATE_HZ, track);
  const level = measureLevel([audio], LINE_RATE_HZ, fundamental?.f0Hz);
  const fitted = fitContour(level);
  return scoreNotes(findNotes({ mono, sampleRateHz: LINE_RATE_HZ, track, level, fundamental, fitted }), wanted);
}

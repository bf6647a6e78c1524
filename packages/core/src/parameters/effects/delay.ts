import { adding, linear, log } from '../build';
import { formatValue } from '../format';
import { inDivisionOr, switched } from './choices';
import { defineEffect } from './defineEffect';
import { feedback, highCut, lowCut, monoBelowHz, outputDb, wet } from './shared';

export const delay = defineEffect({
  kind: 'delay',
  title: 'Delay',
  purpose: 'repeats, either side by a time of its own',
  heard: 'the tone comes back, softer each time',
  parameters: {
    leftSeconds: log('Left', 's', [0.0001, 4], 0.375, 0.0001, ['space'], adding('s', 4)),
    rightSeconds: log('Right', 's', [0.0001, 4], 0.375, 0.0001, ['space'], adding('s', 4)),
    feedback: feedback(40),
    crossFeedback: { ...feedback(0), label: 'Across' },
    lowCutHz: lowCut(10),
    highCutHz: highCut(20000),
    driveDb: linear('Drive in the loop', 'dB', [0, 36], 0, 0.1, ['dirt'], adding('dB', 36)),
    monoBelowHz,
    mix: wet(30),
    outputDb,
  },
  choices: {
    leftDivision: inDivisionOr('Left by', 'in seconds'),
    rightDivision: inDivisionOr('Right by', 'in seconds'),
    /** What comes in begins on the left, and every repeat changes sides. */
    pingPong: switched('Ping-pong'),
    /** A new time is reached by running faster or slower, as on tape, in place of a fade. */
    bends: switched('A moving time bends'),
  },
  hidden: ({ leftDivision, rightDivision, pingPong }) => [
    ...(leftDivision === null ? [] : (['leftSeconds'] as const)),
    ...(rightDivision === null ? [] : (['rightSeconds'] as const)),
    ...(pingPong ? (['crossFeedback'] as const) : []),
  ],
  detail: ({ leftDivision, leftSeconds, rightDivision, rightSeconds, mix }) => {
    const left = leftDivision ?? formatValue(leftSeconds, 's');
    const right = rightDivision ?? formatValue(rightSeconds, 's');
    return `${left === right ? left : `${left}, ${right}`}, ${formatValue(mix, '%')}`;
  },
});

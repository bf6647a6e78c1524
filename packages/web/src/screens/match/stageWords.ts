/** What a match is at, in words, by the names that the search gives its stages. */
const words: Readonly<Record<string, string>> = {
  measuring: 'measuring the cut',
  explanation: 'trying which parts would make this tone',
  'given patch': 'listening to the patch as it is',
  beginning: 'trying how it begins',
  sources: 'turning the sources',
  level: 'turning the level and its contour',
  filter: 'turning the filter and its contour',
  pitch: 'turning pitch and its movement',
  movement: 'turning what moves',
  dirt: 'turning drive and crush',
  noise: 'turning the noise',
  space: 'turning echo and room',
  together: 'turning everything at once',
  choices: 'trying other slopes',
  additions: 'trying what may be missing',
  pruning: 'taking away what is not worth its place',
  polish: 'turning everything in small steps',
  'top octave': 'listening to the top octave as well',
  rounding: 'rounding the numbers',
  mixture: 'trying the spectrum of the cut in place of the sources',
};

export const stageWords = (stage: string): string => words[stage] ?? stage;

/** Words for shapes that more than one kind of module can have; their names are what stands in a patch. */

export const shaperTitles = {
  soft: 'soft',
  hard: 'hard',
  tube: 'tube',
  diode: 'diode',
  sine: 'sine',
  logarithmic: 'logarithmic',
  roundFold: 'folded, round',
  straightFold: 'folded, straight',
  drawn: 'drawn',
} as const;

export type ShaperCurve = keyof typeof shaperTitles;
export const shaperCurves = Object.keys(shaperTitles) as [ShaperCurve, ...ShaperCurve[]];

export const lfoShapeTitles = {
  sine: 'sine',
  triangle: 'triangle',
  rising: 'rising saw',
  falling: 'falling saw',
  square: 'square',
  randomSteps: 'random steps',
  randomCurve: 'random curve',
  drawn: 'drawn',
} as const;

export type LfoShape = keyof typeof lfoShapeTitles;
export const lfoShapes = Object.keys(lfoShapeTitles) as [LfoShape, ...LfoShape[]];

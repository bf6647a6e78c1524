/** What a tone can be rebuilt as: ordinary modules; a wavetable taken from the cut; both. */
export const candidateKinds = ['plain', 'copy', 'mixed'] as const;
export type CandidateKind = (typeof candidateKinds)[number];

/** What is asked for. */
export const structures = [...candidateKinds, 'any'] as const;
export type Structure = (typeof structures)[number];

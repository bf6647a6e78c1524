/**
 * One cue of the film score: a tone that is to be rebuilt, in a small mix. Times in beats, pitches as MIDI
 * notes.
 */
export interface Cue {
  id: string;
  title: string;
  role: 'bass' | 'lead' | 'pad' | 'pluck';
  note: string;
  bpm: number;
  key: { tonic: string; mode: string };
  beats: number;
  tone: ToneSettings;
  melody: CueNote[];
  /** The other part of the mix: soft chords or single notes, played by plain triangles. */
  companion: CueNote[];
  companionLevelDb: number;
  drums: DrumHit[];
  /** Where the tone is nearly alone: one note with its tail. */
  exposed: { fromBeat: number; toBeat: number; name: string };
}

export interface CueNote {
  beat: number;
  beats: number;
  midi: number;
  velocity: number;
}

export interface DrumHit {
  beat: number;
  kind: 'kick' | 'snare' | 'hat';
  levelDb: number;
}

/** True settings of a tone, as the Web Audio graph plays them. */
export interface ToneSettings {
  levelDb: number;
  oscillators: {
    type: 'sine' | 'triangle' | 'sawtooth' | 'square';
    semitones: number;
    detuneCents: number;
    levelDb: number;
    pan: number;
  }[];
  amp: Contour;
  /** Two low-pass biquads in a row, 24 dB per octave together. */
  filter: { restHz: number; peakHz: number; resonanceDb: number; contour: Contour };
  drive: number;
  vibrato?: { rateHz: number; depthCents: number; fadeInSeconds: number };
  glideSeconds?: number;
  noise?: { levelDb: number; decaySeconds: number };
  chorus?: { delaySeconds: number; depthSeconds: number; rateHz: number; mix: number };
  echo?: { beats: number; feedback: number; mix: number };
}

/**
 * Attack is straight; decay and release are exponential with these time constants (Web Audio's
 * setTargetAtTime).
 */
export interface Contour {
  attackSeconds: number;
  decayTau: number;
  sustain: number;
  releaseTau: number;
}
